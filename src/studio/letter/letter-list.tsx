'use client'

import Link from 'next/link'
import { useState } from 'react'
import { CampaignChoice } from '../frame/campaign-choice'
import { Paging, usePage } from '../frame/paging'
import { Waiting } from '../frame/screen'
import { agoWords, count, moneyWords, shareWords } from '../frame/wording'
import { useAsk } from '../talk'

/** Every newsletter with what its sendings brought. */
export function LetterList() {
  const [campaign, setCampaign] = useState('')
  const [page, turn] = usePage(campaign)
  const asked = useAsk('letter.list', { page, campaign })
  if (asked.data === undefined) return <Waiting error={asked.error} again={() => void asked.refetch()} />
  const { lines, total, currency } = asked.data
  return (
    <>
      <div className="filters narrow-filter">
        <CampaignChoice value={campaign} none="Every campaign" change={setCampaign} />
      </div>
      {lines.length === 0 ? (
        <p className="empty">No newsletter yet. Make one, put a call to action in it, and send it to the made-up list.</p>
      ) : (
        <div className="table-scroll">
          <table className="rows">
            <thead>
              <tr>
                <th>Newsletter</th>
                <th className="number">Sent</th>
                <th className="number">Opened</th>
                <th className="number">Followed</th>
                <th className="number">Orders</th>
                <th className="number">Revenue</th>
                <th>Last sent</th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line) => (
                <tr key={line.id}>
                  <td>
                    <Link href={`/site/${line.id}`}>{line.subject}</Link>
                    <span className="address">{line.campaign}</span>
                    {line.sent === 0 ? null : <span className="made-up">made-up readers</span>}
                  </td>
                  <td className="number">{line.sent === 0 ? <span className="quiet">not sent</span> : count(line.sent)}</td>
                  <td className="number">{shareWords(line.opened, line.sent)}</td>
                  <td className="number">{shareWords(line.followed, line.sent)}</td>
                  <td className="number">{count(line.orders)}</td>
                  <td className="number">{moneyWords(line.revenue, currency)}</td>
                  <td className="quiet">{line.lastSentAt === null ? '' : agoWords(line.lastSentAt)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <Paging page={page} total={total} turn={turn} />
    </>
  )
}
