'use client'

import Link from 'next/link'
import { useState } from 'react'
import type { AccountView, TestLine } from '@/contract/contract'
import { CampaignChoice } from '../frame/campaign-choice'
import { Paging, usePage } from '../frame/paging'
import { Note, Screen, Waiting } from '../frame/screen'
import { SearchHead } from '../frame/search-head'
import { plural } from '../frame/wording'
import { useAsk } from '../talk'
import { TestRow } from './test-row'

const groups = [
  ['to finish', (line: TestLine) => line.status === 'draft' && (line.readiness?.blocks ?? 0) > 0],
  ['to start', (line: TestLine) => line.status === 'draft' && line.readiness?.blocks === 0],
  [
    'to decide',
    (line: TestLine) =>
      line.status === 'ended' ||
      ((line.status === 'running' || line.status === 'paused') && line.reading !== 'tooEarly' && line.reading !== null),
  ],
  [
    'gathering',
    (line: TestLine) =>
      (line.status === 'running' || line.status === 'paused') && (line.reading === 'tooEarly' || line.reading === null),
  ],
  ['waiting for their start', (line: TestLine) => line.status === 'scheduled'],
  ['settled', (line: TestLine) => line.status === 'settled'],
] as const

/** Tests grouped by what they wait for. */
export function TestsScreen({ account }: { account: AccountView }) {
  const [search, setSearch] = useState('')
  const [campaign, setCampaign] = useState('')
  const [page, turn] = usePage(`${search} ${campaign}`)
  const asked = useAsk('test.list', { search, campaign, page }, { every: 10_000 })
  const lines = asked.data?.lines ?? []
  const running = asked.data?.running ?? 0
  const narrowed = search !== '' || campaign !== ''
  return (
    <Screen
      account={account}
      sheet={
        <>
          <SearchHead title="Tests" placeholder="Find a test by its name" label="Find a test" search={setSearch} />
          <div className="filters narrow-filter">
            <CampaignChoice value={campaign} none="Every campaign" change={setCampaign} />
          </div>
          {asked.data === undefined ? <Waiting error={asked.error} again={() => void asked.refetch()} /> : null}
          {asked.data !== undefined && lines.length === 0 ? (
            <p className="empty">
              {narrowed
                ? 'No test fits this. Look for another name, or in every campaign.'
                : 'No test yet. Open a page, select a part, make a variant, then make a test of it.'}
            </p>
          ) : null}
          {groups.map(([name, belongs]) => {
            const members = lines.filter(
              (line, _, all) => belongs(line) && groups.find(([, test]) => test(line))?.[0] === name && all.includes(line),
            )
            return members.length === 0 ? null : (
              <section key={name} className="test-group">
                <h2>{name}</h2>
                {members.map((line) => (
                  <TestRow key={line.id} line={line} />
                ))}
              </section>
            )
          })}
          <Paging page={page} total={asked.data?.total ?? 0} turn={turn} />
        </>
      }
      margin={
        <>
          <Note title="Traffic in use">
            {running === 0
              ? 'No test is drawing visitors now.'
              : `${plural(running, 'test is', 'tests are')} drawing visitors. Tests on different parts do not disturb each other; two on the same part are refused before they start.`}
          </Note>
          <Note action={<Link href="/site">Open the site</Link>}>
            A test begins on a page: select a part, make a variant on the shelf, and choose “Make a test of it”.
          </Note>
        </>
      }
    />
  )
}
