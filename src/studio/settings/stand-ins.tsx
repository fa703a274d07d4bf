'use client'

import { OneOf } from '../controls/choices'
import { Button } from '../controls/button'
import { useState } from 'react'
import { mayAs, type AccountView, type Output } from '@/contract/contract'
import { useMessages } from '../frame/messages'
import { Paging, usePage } from '../frame/paging'
import { Waiting } from '../frame/screen'
import { momentWords, moneyWords, plural } from '../frame/wording'
import { useAsk, useTell, type Refused } from '../talk'

const moodWords = {
  accepts: 'accepts',
  refuses: 'refuses',
  slow: 'is slow',
  down: 'is down',
} as const
const statusWords = { waiting: 'waits to be delivered', accepted: 'accepted', refused: 'refused' } as const

/** The service behind the forms, and the shop, as they are stood in for; each does as it is told here. */
export function StandIns({ account }: { account: AccountView }) {
  const [page, turn] = usePage('entries')
  const [orderPage, turnOrders] = usePage('orders')
  const asked = useAsk('standIn.read', { page, orders: orderPage }, { every: 2000 })
  if (asked.data === undefined) return <Waiting error={asked.error} again={() => void asked.refetch()} />
  const may = mayAs(account.role, 'publisher')
  return (
    <>
      <ListService view={asked.data} may={may} page={page} turn={turn} />
      <Shop view={asked.data} may={may} page={orderPage} turn={turnOrders} />
      <Regions of={asked.data.regions} />
    </>
  )
}

function Regions({ of }: { of: Output<'standIn.read'>['regions'] }) {
  return (
    <section className="band" aria-label="Where addresses are (stand-in)">
      <h2>Where addresses are (stand-in)</h2>
      <p className="quiet">
        A visitor’s region is found by their address, which is then forgotten. These towns are made up, at addresses that are only
        used in examples; of all others nothing is known.
      </p>
      <table className="rows">
        <thead>
          <tr>
            <th>Region</th>
            <th>Code</th>
            <th>Addresses</th>
          </tr>
        </thead>
        <tbody>
          {of.map(({ code, name, ranges }) => (
            <tr key={code}>
              <td>{name}</td>
              <td>{code}</td>
              <td className="quiet">{ranges.join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

interface PartProps {
  readonly view: Output<'standIn.read'>
  readonly may: boolean
  readonly page: number
  readonly turn: (page: number) => void
}

function ListService({ view, may, page, turn }: PartProps) {
  const message = useMessages()
  const set = useTell('standIn.setList')
  return (
    <section className="band" aria-label="List service (stand-in)">
      <h2>List service (stand-in)</h2>
      <div className="goal-lines">
        <label>
          <span>It</span>
          <OneOf
            aria-label="How the list service behaves"
            value={view.mood}
            disabled={!may}
            options={Object.entries(moodWords).map(([value, label]) => ({ value: value as keyof typeof moodWords, label }))}
            change={(mood) => set.mutate({ mood }, { onError: (reason) => void message.error(reason.message, 8) })}
          />
        </label>
      </div>
      <p className="quiet">
        Visitors are thanked whatever the service does; what it cannot take now waits here and is delivered later. A form goal
        counts when the service accepts.{' '}
        {view.waiting === 0 ? 'Nothing waits.' : `${plural(view.waiting, 'entry waits', 'entries wait')}.`}
      </p>
      {view.entries.length === 0 ? (
        <p className="empty">No form has been sent yet.</p>
      ) : (
        <table className="rows">
          <thead>
            <tr>
              <th>Sent</th>
              <th>Form on</th>
              <th>What it received</th>
              <th>State</th>
            </tr>
          </thead>
          <tbody>
            {view.entries.map(({ id, at, page: where, values, status, tries, message: said }) => (
              <tr key={id}>
                <td className="quiet">{momentWords(at)}</td>
                <td>{where}</td>
                <td>
                  {view.entriesHidden ? <span className="quiet">for publishers and administrators: </span> : null}
                  {view.entriesHidden
                    ? Object.keys(values).join(', ')
                    : Object.entries(values)
                        .filter(([, value]) => value !== '')
                        .map(([name, value]) => `${name}: ${value}`)
                        .join(' · ')}
                </td>
                <td title={said}>
                  {statusWords[status]}
                  {status === 'waiting' && tries > 0 ? `, tried ${plural(tries, 'time', 'times')}` : ''}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Paging page={page} total={view.entriesInAll} turn={turn} />
    </section>
  )
}

function Shop({ view, may, page, turn }: PartProps) {
  const message = useMessages()
  const [paying, setPaying] = useState<string | null>(null)
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const close = useTell('standIn.closeOrder')
  const refund = useTell('standIn.refundOrder', () => {
    setPaying(null)
    void message.success('Paid back, and reported.')
  })
  return (
    <section className="band" aria-label="Shop (stand-in)">
      <h2>Shop (stand-in)</h2>
      <p className="quiet">
        A form whose “order worth” is filled in becomes an order here when it is accepted, and is reported at once.
      </p>
      {view.orders.length === 0 ? (
        <p className="empty">Nothing has been ordered yet.</p>
      ) : (
        <table className="rows">
          <thead>
            <tr>
              <th>Order</th>
              <th>On</th>
              <th className="number">Value</th>
              <th className="number">Paid back</th>
              <th>State</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {view.orders.map(({ number, at, value, refunded, closed }) => (
              <tr key={number}>
                <td>{number}</td>
                <td className="quiet">{momentWords(at)}</td>
                <td className="number">{moneyWords(value, view.currency)}</td>
                <td className="number">{refunded === 0 ? '–' : moneyWords(refunded, view.currency)}</td>
                <td>{closed ? 'closed' : 'open'}</td>
                <td>
                  {closed ? null : (
                    <Button size="small" disabled={!may} onClick={() => close.mutate({ order: number }, failed)}>
                      Close
                    </Button>
                  )}{' '}
                  {value - refunded <= 0 ? null : (
                    <Button
                      size="small"
                      disabled={!may}
                      busy={refund.isPending && paying === number}
                      aria-label={`Pay ${number} back`}
                      onClick={() => {
                        setPaying(number)
                        refund.mutate({ order: number, amount: value - refunded }, failed)
                      }}
                    >
                      Pay back
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Paging page={page} total={view.ordersInAll} turn={turn} />
    </section>
  )
}
