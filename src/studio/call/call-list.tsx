'use client'

import { TextField } from '../controls/fields'
import { OneOf } from '../controls/choices'
import { Button } from '../controls/button'
import Link from 'next/link'
import { useState } from 'react'
import type { CallLine } from '@/contract/contract'
import { useMessages } from '../frame/messages'
import { CampaignChoice } from '../frame/campaign-choice'
import { MadeUp } from '../frame/made-up'
import { Paging, usePage } from '../frame/paging'
import { agoWords, count, moneyWords, shareWords, stateWords, statusWords } from '../frame/wording'
import { download } from '../media/upload'
import { talk, useAsk, type Refused } from '../talk'

type Channel = 'page' | 'newsletter' | 'all'

/** Every call to action with what it has brought, narrowed by campaign, days and channel. */
export function CallList({ chosen, choose }: { chosen: string | null; choose: (line: CallLine) => void }) {
  const message = useMessages()
  const [campaign, setCampaign] = useState('')
  const [channel, setChannel] = useState<Channel>('all')
  const [days, setDays] = useState({ from: '', to: '' })
  const filter = { campaign, channel, from: days.from || null, to: days.to || null }
  const [page, turn] = usePage(JSON.stringify(filter))
  const asked = useAsk('call.list', { ...filter, page })
  const lines = asked.data?.lines ?? []
  return (
    <>
      <div className="filters">
        <CampaignChoice value={campaign} none="Every campaign" change={setCampaign} />
        <label className="day">
          From
          <TextField
            type="date"
            value={days.from}
            max={days.to}
            onChange={({ target }) => setDays({ ...days, from: target.value })}
          />
        </label>
        <label className="day">
          to
          <TextField
            type="date"
            value={days.to}
            min={days.from}
            onChange={({ target }) => setDays({ ...days, to: target.value })}
          />
        </label>
        <OneOf<Channel>
          aria-label="Channel"
          value={channel}
          options={[
            { value: 'all', label: 'Everywhere' },
            { value: 'page', label: 'On pages' },
            { value: 'newsletter', label: 'In newsletters' },
          ]}
          change={setChannel}
        />
        <Button
          className="end"
          onClick={() =>
            void talk('call.table', filter).then(
              ({ csv }) => download({ name: 'calls-to-action.csv', type: 'text/csv', text: csv }),
              (reason: Refused) => void message.error(reason.message, 8),
            )
          }
        >
          As CSV
        </Button>
      </div>
      {lines.length === 0 ? <p className="empty">No call to action fits. Widen the filters, or make one.</p> : null}
      {lines.length === 0 ? null : <CallTable {...{ lines, chosen, choose, channel }} currency={asked.data?.currency ?? 'EUR'} />}
      <Paging page={page} total={asked.data?.total ?? 0} turn={turn} />
    </>
  )
}

interface CallTableProps {
  readonly lines: readonly CallLine[]
  readonly chosen: string | null
  readonly choose: (line: CallLine) => void
  readonly channel: Channel
  readonly currency: string
}

function CallTable({ lines, chosen, choose, channel, currency }: CallTableProps) {
  return (
    <div className="table-scroll">
      <table className="rows">
        <thead>
          <tr>
            <th>Call to action</th>
            <th>Places</th>
            <th className="number">Seen</th>
            <th className="number">Pressed</th>
            <th className="number">Click-through</th>
            <th className="number">Goals</th>
            <th className="number">Revenue</th>
            <th className="number">Orders, open / closed</th>
            <th>Last change</th>
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => (
            <tr key={line.id} className={line.id === chosen ? 'chosen' : ''} onClick={() => choose(line)}>
              <td>
                <Link href={`/site/${line.id}`} onFocus={() => choose(line)}>
                  {line.title}
                </Link>
                <span className="address">{[line.look, line.campaign].filter(Boolean).join(' · ')}</span>
                {line.state === 'published' ? null : <span className={`state ${line.state}`}> {stateWords[line.state]}</span>}
                {line.tests.map(({ id, status }) => (
                  <span key={id} className={status === 'running' ? 'living' : 'quiet'}>
                    {' '}
                    test {statusWords[status]}
                  </span>
                ))}{' '}
                <MadeUp touched={({ calls }) => channel !== 'page' && calls.includes(line.id)} />
              </td>
              <td>{line.places.length === 0 ? <span className="quiet">nowhere</span> : count(line.places.length)}</td>
              <td className="number">{count(line.views)}</td>
              <td className="number">{count(line.clicks)}</td>
              <td className="number">{shareWords(line.clicks, line.views)}</td>
              <td className="number">{count(line.submissions)}</td>
              <td className="number">{moneyWords(line.revenue, currency)}</td>
              <td className="number" title={`${count(line.ordersOpen)} open, ${count(line.ordersClosed)} closed`}>
                {count(line.ordersOpen)} / {count(line.ordersClosed)}
              </td>
              <td className="quiet" title={`by ${line.updatedBy}`}>
                {agoWords(line.updatedAt)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
