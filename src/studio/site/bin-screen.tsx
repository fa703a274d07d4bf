'use client'

import { Button } from '../controls/button'
import Link from 'next/link'
import type { AccountView, BinLine } from '@/contract/contract'
import type { DocumentId, GoalId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { Note, Screen, Waiting } from '../frame/screen'
import { agoWords, dayWords, documentWords } from '../frame/wording'
import { useAsk, useTell, type Refused } from '../talk'

const kindWords: { readonly [Of in BinLine['kind']]: string } = {
  ...documentWords,
  picture: 'picture',
  film: 'film',
  goal: 'goal',
  campaign: 'campaign',
}

/** What was thrown away, each with the way back. */
export function BinScreen({ account }: { account: AccountView }) {
  const message = useMessages()
  const asked = useAsk('bin.list', {})
  const failed = { onError: (reason: Refused) => void message.error(reason.message, 8) }
  const back = useTell(
    'bin.take',
    ({ sameAddress }) =>
      void message.success(
        sameAddress
          ? 'It is back, as a draft.'
          : 'It is back, as a draft. Its address was taken meanwhile, so it has another one.',
        6,
      ),
  )
  const backMedia = useTell('bin.takeMedia', () => void message.success('It is back in the library.'))
  const backGoal = useTell('bin.takeGoal', () => void message.success('It is back among the goals, as it was.'))
  const backCampaign = useTell('bin.takeCampaign', () => void message.success('It is back among the campaigns.'))
  const bring = ({ kind, id }: BinLine) => {
    switch (kind) {
      case 'picture':
      case 'film':
        return backMedia.mutate({ name: id }, failed)
      case 'goal':
        return backGoal.mutate({ goal: id as GoalId }, failed)
      case 'campaign':
        return backCampaign.mutate({ name: id }, failed)
      default:
        return back.mutate({ document: id as DocumentId }, failed)
    }
  }
  const lines = asked.data?.lines ?? []
  return (
    <Screen
      account={account}
      sheet={
        <>
          <header className="sheet-head">
            <h1>The bin</h1>
          </header>
          {asked.data === undefined ? <Waiting error={asked.error} again={() => void asked.refetch()} /> : null}
          {asked.data !== undefined && lines.length === 0 ? <p className="empty">Nothing is in the bin.</p> : null}
          {lines.length === 0 ? null : (
            <table className="rows">
              <thead>
                <tr>
                  <th>What</th>
                  <th>Thrown away</th>
                  <th>Goes for good</th>
                  <th>
                    <span className="unseen">Steps</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {lines.map((line) => (
                  <tr key={`${line.kind} ${line.id}`}>
                    <td>
                      {line.title} <span className="address">{kindWords[line.kind]}</span>
                    </td>
                    <td className="quiet">
                      by {line.by}, {agoWords(line.at)}
                    </td>
                    <td className="quiet">{line.until === null ? 'never: a result needs it' : dayWords(line.until)}</td>
                    <td>
                      <Button size="small" aria-label={`Bring “${line.title}” back`} onClick={() => bring(line)}>
                        Bring it back
                      </Button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </>
      }
      margin={
        <Note title="What the bin keeps" action={<Link href="/site">Back to the site</Link>}>
          Everything stays for 30 days. A page that comes back is a draft: publish it to show it again.
        </Note>
      }
    />
  )
}
