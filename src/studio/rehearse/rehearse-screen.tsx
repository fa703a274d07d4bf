'use client'

import { Choice } from '../controls/choices'
import { Button } from '../controls/button'
import Link from 'next/link'
import { useState } from 'react'
import type { AccountView, RehearsalView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { percent } from '@/core/numbers'
import type { TestId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { Note, Screen, Waiting } from '../frame/screen'
import { count, momentWords, plural } from '../frame/wording'
import { ResultBody } from '../results/results'
import { useAsk, useTell } from '../talk'
import { Plan } from './plan'

/** Simulated visitors with known effects through the real code, never mixed with real counts. */
export function RehearseScreen({ account, chosen }: { account: AccountView; chosen: string | null }) {
  const running = useAsk('test.list', { status: 'running' })
  const drafts = useAsk('test.list', { status: 'draft' })
  const lines = [...(running.data?.lines ?? []), ...(drafts.data?.lines ?? [])]
  const [picked, setPicked] = useState<string | null>(chosen)
  const id = picked ?? lines[0]?.id ?? null
  const rehearsals = useAsk('rehearsal.list', { test: null }, { every: 1000 })
  const latest = rehearsals.data?.rehearsals.find(({ test }) => test === id)
  return (
    <Screen
      account={account}
      sheet={
        <>
          <header className="sheet-head">
            <h1>Rehearse</h1>
          </header>
          <p className="rehearsal-banner">
            Everything on this sheet is simulated. Rehearsals go through the same deciding and counting as real visitors and are
            kept apart from them.
          </p>
          {running.data === undefined ? <Waiting error={running.error} again={() => void running.refetch()} /> : null}
          {running.data !== undefined && drafts.data !== undefined && lines.length === 0 ? (
            <p className="empty">
              There is no test yet. <Link href="/tests">Make one</Link>, then rehearse what it would find.
            </p>
          ) : null}
          {running.data === undefined || id === null ? null : (
            <>
              <label className="question">
                <span>Test</span>
                <Choice
                  aria-label="Test"
                  value={id}
                  change={setPicked}
                  options={lines.map(({ id: value, name, status }) => ({
                    value: value as string,
                    label: status === 'draft' ? `${name} (draft)` : name,
                  }))}
                />
              </label>
              <PlanForm key={id} test={id as TestId} />
            </>
          )}
          {latest === undefined ? null : <Watching rehearsal={latest} />}
        </>
      }
      margin={
        <>
          <Note title="What it is for">
            Set what is true, send visitors, and see whether the test finds it: how often, how soon, and what an effect too small
            to matter looks like.
          </Note>
          {rehearsals.data === undefined || rehearsals.data.rehearsals.length === 0 ? null : (
            <Note title="Rehearsals so far">
              <ul>
                {rehearsals.data.rehearsals.slice(0, 8).map((one) => (
                  <li key={one.id}>
                    {one.id}. {one.testName}: {plural(one.plan.visitors, 'visitor', 'visitors')}, {one.status},{' '}
                    {momentWords(one.at)}
                  </li>
                ))}
              </ul>
            </Note>
          )}
        </>
      }
    />
  )
}

function PlanForm({ test: id }: { test: TestId }) {
  const asked = useAsk('test.open', { test: id })
  if (asked.data === undefined) return <Waiting error={asked.error} again={() => void asked.refetch()} />
  return <Plan test={asked.data} />
}

function Watching({ rehearsal }: { rehearsal: RehearsalView }) {
  const message = useMessages()
  const cancel = useTell('rehearsal.cancel')
  const going = rehearsal.status === 'waiting' || rehearsal.status === 'running'
  const result = useAsk('result.read', { test: rehearsal.test, crowd: rehearsal.id }, { every: going ? 1000 : undefined })
  const { plan, sent } = rehearsal
  return (
    <section className="band results rehearsed" aria-label="The rehearsal">
      <header className="band-head">
        <h2>Rehearsal {rehearsal.id}</h2>
        {going ? (
          <Button
            size="small"
            onClick={() => cancel.mutate({ id: rehearsal.id }, { onError: (reason) => void message.error(reason.message) })}
          >
            Cancel
          </Button>
        ) : null}
      </header>
      <p role="status">
        {rehearsal.status === 'done' ? 'All' : count(sent)} of {plural(plan.visitors, 'simulated visitor', 'simulated visitors')}{' '}
        over {plural(plan.days, 'day', 'days')}{' '}
        {going ? 'have come so far' : rehearsal.status === 'done' ? 'have come' : `had come when it was ${rehearsal.status}`}.
        Set:{' '}
        {plan.rates
          .map(
            ({ version, rate }) =>
              `${version === ORIGINAL ? 'Original' : (rehearsal.versions.find(({ id }) => id === version)?.name ?? 'Variant')} ${percent(rate)}`,
          )
          .join(', ')}
        . {rehearsal.message}
      </p>
      {going ? <progress aria-label="Visitors sent" value={sent} max={plan.visitors} /> : null}
      {rehearsal.found === null ? null : <OnTheWay rehearsal={rehearsal} found={rehearsal.found} />}
      {result.data ? <ResultBody result={result.data} /> : null}
    </section>
  )
}

/** What those who came through the pages met there. */
function OnTheWay({ rehearsal, found }: { rehearsal: RehearsalView; found: NonNullable<RehearsalView['found']> }) {
  const { pages, shown, bots, studioUsers, withheld, cameBack, wrong } = found
  const leftOut = [
    ...(bots === 0 ? [] : [`${count(bots)} to bots`]),
    ...(studioUsers === 0 ? [] : [`${count(studioUsers)} to people of the studio`]),
    ...(withheld === 0 ? [] : [`${count(withheld)} to visitors who did not agree to be counted`]),
  ]
  const isWell = wrong.length === 0 && shown > 0
  const nameOf = (version: string) =>
    version === ORIGINAL ? 'the original' : `‘${rehearsal.versions.find(({ id }) => id === version)?.name ?? 'a variant'}’`
  return (
    <div className={isWell ? 'on-the-way' : 'on-the-way alarm'}>
      <p>
        {plural(pages, 'page was', 'pages were')} served{leftOut.length === 0 ? '' : `, ${leftOut.join(', ')}`}
        {cameBack === 0 ? '' : `; ${plural(cameBack, 'visitor', 'visitors')} came back on another day`}.{' '}
        {shown === 0
          ? 'Nobody was shown anything of the test: look at who takes part, and on which pages it is.'
          : isWell
            ? 'Everybody could do what they came for, in every version.'
            : 'Not everybody could do what they came for:'}
      </p>
      {wrong.length === 0 ? null : (
        <ul>
          {wrong.map(({ version, words, times }) => (
            <li key={`${version ?? ''} ${words}`}>
              {version === null ? '' : `with ${nameOf(version)}: `}
              {words} ({plural(times, 'time', 'times')})
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
