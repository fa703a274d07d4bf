'use client'

import dynamic from 'next/dynamic'
import { Switch } from '../controls/choices'
import { Button } from '../controls/button'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { mayAs, type AccountView, type GoalLine } from '@/contract/contract'
import { percent } from '@/core/numbers'
import { libraryOf, type Wiring } from '@/core/goals'
import { useMessages } from '../frame/messages'
import { MadeUp } from '../frame/made-up'
import { Paging, usePage } from '../frame/paging'
import { Note, Screen, Waiting } from '../frame/screen'
import { SearchHead } from '../frame/search-head'
import { agoWords, count, plural, statusWords } from '../frame/wording'
import { useAsk, useTell } from '../talk'
import { BeingRead, BringOrders } from './bring-orders'
import { DaysLine } from '../frame/days-line'
import { WiredPlace } from './wired-place'
import { wiringWords, worthWords } from './wiring-words'

const Pointing = dynamic(() => import('./pointing').then((room) => room.Pointing), { ssr: false })

const stateWords = {
  draft: 'draft, counts nothing yet',
  published: '',
  changed: 'changed since published',
  archived: 'archived',
} as const

/** The library: everything that can count, once, for every test. */
export function GoalsScreen({ account }: { account: AccountView }) {
  const router = useRouter()
  const message = useMessages()
  const [search, setSearch] = useState('')
  const [archived, setArchived] = useState(false)
  const [chosen, setChosen] = useState<string | null>(null)
  const [pointing, setPointing] = useState(false)
  const [page, turn] = usePage(`${search} ${archived}`)
  const asked = useAsk('goal.list', { search, archived, page }, { every: 10_000 })
  const site = useAsk('site.read', {})
  const settings = useAsk('setting.read', {})
  const create = useTell('goal.create', ({ id }) => router.push(`/goals/${id}`))
  const lines = asked.data?.lines ?? []
  const line = lines.find(({ goal }) => goal.id === chosen) ?? null
  const currency = settings.data?.currency ?? 'EUR'
  const pages = site.data?.lines ?? []
  const make = (name: string, wiring: Wiring) =>
    create.mutate({ name, wiring }, { onError: (reason) => void message.error(reason.message, 8) })
  return (
    <Screen
      account={account}
      sheet={
        <>
          <SearchHead title="Goals" placeholder="Find a goal by its name" label="Find a goal" search={setSearch} />
          <div className="filters">
            <label className="switch-line">
              <Switch checked={archived} change={setArchived} /> archived ones
            </label>
            <span className="end" />
            {mayAs(account.role, 'publisher') ? <BringOrders /> : null}
            <Button onClick={() => make('A new goal', { kind: 'event', event: `event-${Date.now().toString(36)}` })}>
              Describe a goal
            </Button>
            <Button look="primary" disabled={pages.length === 0} onClick={() => setPointing(true)}>
              Point at a goal
            </Button>
          </div>
          {mayAs(account.role, 'publisher') ? <BeingRead /> : null}
          {asked.data === undefined ? <Waiting error={asked.error} again={() => void asked.refetch()} /> : null}
          {asked.data !== undefined && lines.length === 0 ? (
            <p className="empty">
              {archived ? 'Nothing is archived.' : 'Nothing counts yet. Point at the button, form or page that means success.'}
            </p>
          ) : null}
          {lines.length === 0 ? null : <GoalTable {...{ lines, chosen, choose: setChosen, currency }} />}
          <Paging page={page} total={asked.data?.total ?? 0} turn={turn} />
          {pointing && pages[0] !== undefined ? (
            <Pointing
              pages={pages}
              first={pages[0].id}
              around={[]}
              going={create.isPending}
              close={() => setPointing(false)}
              choose={make}
            />
          ) : null}
        </>
      }
      margin={<GoalNotes line={line} lines={lines} />}
    />
  )
}

/** Every goal with what it counted in the last four weeks. */
function GoalTable({
  lines,
  chosen,
  choose,
  currency,
}: {
  lines: readonly GoalLine[]
  chosen: string | null
  choose: (goal: string) => void
  currency: string
}) {
  const library = libraryOf(lines.map(({ goal }) => goal))
  const titles = new Map<string, string>(
    lines.flatMap(({ places }) => places.map(({ document, title }) => [document, title] as const)),
  )
  return (
    <table className="rows goals">
      <thead>
        <tr>
          <th>Goal</th>
          <th className="number">Worth</th>
          <th className="number">
            Reached, 28 days
            <MadeUp touched={({ any }) => any} />
          </th>
          <th className="number">Of new visitors</th>
          <th>Day by day</th>
          <th>Tests</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((one) => (
          <tr key={one.goal.id} className={one.goal.id === chosen ? 'chosen' : ''} onClick={() => choose(one.goal.id)}>
            <td>
              <Link href={`/goals/${one.goal.id}`} onFocus={() => choose(one.goal.id)}>
                {one.goal.name}
              </Link>
              <span className="address">{wiringWords(one.goal.wiring, library, (id) => titles.get(id) ?? 'a page')}</span>
              {stateWords[one.state] === '' ? null : <span className="state changed">{stateWords[one.state]}</span>}
              {one.lacks === '' ? null : <span className="asks">{one.lacks}</span>}
            </td>
            <td className="number">{worthWords(one.goal, currency)}</td>
            <td className="number">{count(one.times)}</td>
            <td className="number">{one.rate === null || one.visitors === 0 ? '–' : percent(one.rate)}</td>
            <td>
              <DaysLine days={one.days} />
            </td>
            <td>{one.tests.length === 0 ? <span className="quiet">none</span> : count(one.tests.length)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** The goal that is chosen; of none, what is not wired. */
function GoalNotes({ line, lines }: { line: GoalLine | null; lines: readonly GoalLine[] }) {
  if (line === null)
    return (
      <Note title="What is not wired">
        <Unwired lines={lines} />
      </Note>
    )
  return (
    <>
      <Note title={line.goal.name} action={<Link href={`/goals/${line.goal.id}`}>Open it</Link>}>
        Changed by {line.updatedBy}, {agoWords(line.updatedAt)}.
      </Note>
      <WiredPlace line={line} />
      <UsedBy line={line} />
    </>
  )
}

function Unwired({ lines }: { lines: readonly GoalLine[] }) {
  const lacking = lines.filter(({ lacks, state }) => lacks !== '' || state === 'draft')
  if (lacking.length === 0) return <>Every goal is wired to something that is published. Select one to see where.</>
  return (
    <ul className="where-used">
      {lacking.map(({ goal, lacks }) => (
        <li key={goal.id}>
          <Link href={`/goals/${goal.id}`}>{goal.name}</Link>{' '}
          <span className="quiet">{lacks || 'is a draft: publish it, or start a test that uses it.'}</span>
        </li>
      ))}
    </ul>
  )
}

/** The tests that count this goal. */
export function UsedBy({ line }: { line: GoalLine }) {
  if (line.tests.length === 0) return <Note title="Used by">No test counts it yet. Choose it on the sheet of a test.</Note>
  const words = { decides: 'decides', watched: 'is watched', guard: 'guards' } as const
  return (
    <Note title={`Used by ${plural(line.tests.length, 'test', 'tests')}`}>
      <ul className="where-used">
        {line.tests.slice(0, 8).map(({ id, name, status, as }) => (
          <li key={id}>
            <Link href={`/tests/${id}`}>{name}</Link>{' '}
            <span className={status === 'running' ? 'living' : 'quiet'}>
              {words[as]}, {statusWords[status]}
            </span>
          </li>
        ))}
      </ul>
    </Note>
  )
}
