'use client'

import { Button } from '../controls/button'
import { SheetOver } from '../controls/sheet-over'
import { OneOf } from '../controls/choices'
import { useState } from 'react'
import { mayAs, type AccountView, type LetterView, type SendingView } from '@/contract/contract'
import { useMessages } from '../frame/messages'
import { Note, Waiting } from '../frame/screen'
import { count, momentWords, moneyWords, plural, shareWords } from '../frame/wording'
import { useAsk, useTell } from '../talk'

/** What became of each sending, the newest first. */
export function Sendings({ account, letter }: { account: AccountView; letter: LetterView }) {
  const [looking, setLooking] = useState<SendingView | null>(null)
  return (
    <>
      {letter.sendings.map((sending) => (
        <Sending
          key={sending.number}
          account={account}
          sending={sending}
          currency={letter.currency}
          look={() => setLooking(sending)}
        />
      ))}
      {looking === null ? null : <AsSent sending={looking} close={() => setLooking(null)} />}
    </>
  )
}

const statusWords = { waiting: 'about to go out', sending: 'going out', sent: 'out', stopped: 'stopped' } as const

function Sending({
  account,
  sending,
  currency,
  look,
}: {
  account: AccountView
  sending: SendingView
  currency: string
  look: () => void
}) {
  const message = useMessages()
  const stop = useTell('letter.stop')
  const { number, at, by, status, message: trouble, plan, sent, opened, followed, orders, revenue, looks, calls } = sending
  const going = status === 'waiting' || status === 'sending'
  return (
    <Note
      title={`Sent ${momentWords(at)}`}
      tone={going ? 'live' : undefined}
      action={
        <div className="place-tools">
          {looks.length === 0 ? null : (
            <Button size="small" onClick={look}>
              As it was sent
            </Button>
          )}
          {going && mayAs(account.role, 'publisher') ? (
            <Button
              size="small"
              busy={stop.isPending}
              onClick={() => stop.mutate({ number }, { onError: (reason) => void message.error(reason.message, 8) })}
            >
              Stop it
            </Button>
          ) : null}
        </div>
      }
    >
      <p className="figures">
        By {by}, {statusWords[status]}: <strong>{count(sent)}</strong>
        {sent === plan.readers ? '' : ` of ${count(plan.readers)}`} readers. <strong>{shareWords(opened, sent)}</strong> opened
        it, <strong>{shareWords(followed, sent)}</strong> followed a link; {plural(orders, 'order', 'orders')},{' '}
        <strong>{moneyWords(revenue, currency)}</strong> after what was paid back.
      </p>
      {trouble === '' ? null : <p role="status">{trouble}</p>}
      <div className="table-scroll" role="region" aria-label="By call to action" tabIndex={0}>
        <table className="rows sending">
          <thead>
            <tr>
              <th>Call to action</th>
              <th className="number">Opened</th>
              <th className="number">Followed</th>
            </tr>
          </thead>
          <tbody>
            {calls.flatMap(({ call, title, versions }) =>
              versions.map((one) => (
                <tr key={`${call} ${one.version}`}>
                  <td>
                    {title}
                    {versions.length > 1 ? <span className="address">{one.name}</span> : null}
                  </td>
                  <td className="number" title={`of ${count(one.sent)} it was sent to`}>
                    {count(one.shown)}
                  </td>
                  <td className="number" title={`${count(one.followed)} of ${count(one.shown)} who opened it`}>
                    {shareWords(one.followed, one.shown)}
                  </td>
                </tr>
              )),
            )}
          </tbody>
        </table>
      </div>
    </Note>
  )
}

/** The letter as its readers have it, in each form it was sent in. */
function AsSent({ sending, close }: { sending: SendingView; close: () => void }) {
  const [look, setLook] = useState(sending.looks[0]?.look ?? 1)
  const [as, setAs] = useState<'html' | 'words'>('html')
  const asked = useAsk('letter.look', { number: sending.number, look })
  const chosen = sending.looks.find((one) => one.look === look)
  return (
    <SheetOver wide={760} title={sending.subject} close={close}>
      <div className="filters">
        <OneOf<number>
          aria-label="Form"
          value={look}
          options={sending.looks.map(({ look: value }) => ({ value, label: `Form ${value}` }))}
          change={setLook}
        />
        <OneOf<'html' | 'words'>
          aria-label="As"
          value={as}
          options={[
            { value: 'html', label: 'With pictures' },
            { value: 'words', label: 'Words alone' },
          ]}
          change={setAs}
        />
      </div>
      <p className="quiet">
        {chosen === undefined
          ? ''
          : `${plural(chosen.sent, 'reader', 'readers')} got this form${chosen.words === '' ? '' : ` (${chosen.words})`}.`}{' '}
        In place of “pass-of-the-recipient”, each link carries who it was sent to and the versions above.
      </p>
      {asked.data === undefined ? (
        <Waiting error={asked.error} again={() => void asked.refetch()} />
      ) : as === 'html' ? (
        <iframe className="mail-frame" title="The letter as it was sent" sandbox="" srcDoc={asked.data.html} />
      ) : (
        <pre className="mail-words" tabIndex={0}>
          {asked.data.words}
        </pre>
      )}
    </SheetOver>
  )
}
