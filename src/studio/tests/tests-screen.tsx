'use client'

import Link from 'next/link'
import type { AccountView, TestLine } from '@/contract/contract'
import { statuses, statusWords } from '@/core/experiment'
import { Button } from '../controls/button'
import { Choice, OneOf } from '../controls/choices'
import { CampaignChoice } from '../frame/campaign-choice'
import { Paging, usePage } from '../frame/paging'
import { Note, Screen, Waiting } from '../frame/screen'
import { SearchHead } from '../frame/search-head'
import { useMessages } from '../frame/messages'
import { useAddress } from '../frame/use-address'
import { talk, useAsk, type Refused } from '../talk'
import { Capacity } from './capacity'
import { TestRow } from './test-row'
import { WeeksView } from './weeks-view'

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

const stateNames = statuses.map((value) => ({ value, label: statusWords[value] }))
/** What can be tested, by where it is changed. */
const partNames = [
  { value: 'page', label: 'Parts of pages' },
  { value: 'menu', label: 'Menus' },
  { value: 'callToAction', label: 'Calls to action' },
  { value: 'shared', label: 'Shared components' },
  { value: 'style', label: 'Styles' },
  { value: 'letter', label: 'Newsletters' },
] as const

/** Tests grouped by what they wait for, or in weeks; what they are narrowed to stands in the address. */
export function TestsScreen({ account }: { account: AccountView }) {
  const [by, narrow] = useAddress(['show', 'find', 'state', 'campaign', 'person', 'part'])
  const status = statuses.find((one) => one === by.state) ?? null
  const part = partNames.find(({ value }) => value === by.part)?.value ?? null
  const { find: search, campaign, person } = by
  const [page, turn] = usePage(JSON.stringify([search, status, campaign, person, part]))
  const asked = useAsk('test.list', { search, campaign, status, person, part, page }, { every: 10_000 })
  const lines = asked.data?.lines ?? []
  const running = asked.data?.running ?? 0
  const narrowed = search !== '' || campaign !== '' || status !== null || person !== '' || part !== null
  const inWeeks = by.show === 'weeks'
  return (
    <Screen
      account={account}
      sheet={
        <>
          <SearchHead
            title="Tests"
            placeholder="Find a test by its name"
            label="Find a test"
            value={search}
            search={(find) => narrow({ find, show: '' })}
          />
          <div className="filters">
            <OneOf
              aria-label="How tests are shown"
              size="small"
              value={inWeeks ? 'weeks' : 'list'}
              change={(show) => narrow({ show: show === 'weeks' ? 'weeks' : '' })}
              options={[
                { value: 'list', label: 'By what they wait for' },
                { value: 'weeks', label: 'In weeks' },
              ]}
            />
          </div>
          {inWeeks ? (
            <WeeksView />
          ) : (
            <>
              <div className="filters">
                <Choice
                  aria-label="State"
                  value={status}
                  change={(state) => narrow({ state: state ?? '' })}
                  options={[{ value: null, label: 'Every state' }, ...stateNames]}
                />
                <Choice
                  aria-label="What is tested"
                  value={part}
                  change={(of) => narrow({ part: of ?? '' })}
                  options={[{ value: null, label: 'Parts of all kinds' }, ...partNames]}
                />
                <Choice
                  aria-label="Who made it"
                  value={person}
                  change={(name) => narrow({ person: name })}
                  options={[
                    { value: '', label: 'Made by anybody' },
                    ...(asked.data?.people ?? (person === '' ? [] : [person])).map((name) => ({
                      value: name,
                      label: `Made by ${name}`,
                    })),
                  ]}
                />
                <CampaignChoice value={campaign} none="Every campaign" change={(name) => narrow({ campaign: name })} />
              </div>
              <List {...{ asked, lines, narrowed, page, turn }} />
            </>
          )}
        </>
      }
      margin={
        <>
          <Capacity running={running} />
          <CalendarAddress />
          <Note action={<Link href="/site">Open the site</Link>}>
            A test begins on a page: select a part, make a variant on the shelf, and choose “Make a test of it”.
          </Note>
        </>
      }
    />
  )
}

interface Listed {
  readonly asked: ReturnType<typeof useAsk<'test.list'>>
  readonly lines: readonly TestLine[]
  readonly narrowed: boolean
  readonly page: number
  readonly turn: (page: number) => void
}

function List({ asked, lines, narrowed, page, turn }: Listed) {
  return (
    <>
      {asked.data === undefined ? <Waiting error={asked.error} again={() => void asked.refetch()} /> : null}
      {asked.data !== undefined && lines.length === 0 ? (
        <p className="empty">
          {narrowed
            ? 'No test fits this. Look for another name, or in every state and campaign.'
            : 'No test yet. Open a page, select a part, make a variant, then make a test of it.'}
        </p>
      ) : null}
      {groups.map(([name, belongs]) => {
        const members = lines.filter((line) => belongs(line) && groups.find(([, test]) => test(line))?.[0] === name)
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
  )
}

/** Starts and ends in one's own calendar. */
function CalendarAddress() {
  const message = useMessages()
  const copy = () =>
    void talk('test.calendarAddress', {})
      .then(({ address }) => navigator.clipboard.writeText(address))
      .then(
        () => message.success('The address is copied. Paste it where your calendar asks for one to subscribe to.'),
        () => message.error('The address could not be copied.', 8),
      )
  const renew = () =>
    void talk('test.newCalendarAddress', {}).then(
      () => message.success('There is a new address; the one before tells nothing any more. Copy it into your calendar.', 8),
      (reason: Refused) => message.error(reason.message, 8),
    )
  return (
    <Note title="In your calendar">
      <p>Starts and ends of all tests, for a calendar program that subscribes to an address (iCalendar). It is yours alone.</p>
      <div className="row-tools">
        <Button size="small" onClick={copy}>
          Copy the address
        </Button>
        <Button size="small" look="quiet" onClick={renew}>
          New address
        </Button>
      </div>
    </Note>
  )
}
