'use client'

import { Choice, OneUnder } from '../controls/choices'
import { NumberField } from '../controls/fields'
import { Button } from '../controls/button'
import Link from 'next/link'
import { useState } from 'react'
import { MOST_THROUGH_PAGES, type AccountView, type RehearsalView, type TestView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { armName } from '@/core/experiment'
import { percent } from '@/core/numbers'
import type { TestId, VersionId } from '@/core/ids'
import { useMessages } from '../frame/messages'
import { VersionMark } from '../frame/marks'
import { Note, Screen, Waiting } from '../frame/screen'
import { count, momentWords, plural } from '../frame/wording'
import { ResultBody } from '../results/results'
import { useAsk, useTell } from '../talk'
import { mishaps, type Mishap } from '@/core/simulate'
import { ManyTimes, mishapWords } from './many-times'

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

function Plan({ test }: { test: TestView }) {
  const message = useMessages()
  const [visitors, setVisitors] = useState(20_000)
  const [days, setDays] = useState(21)
  const [seed, setSeed] = useState(1)
  const base = test.traffic.baseRate && test.traffic.baseRate < 0.8 ? Math.round(test.traffic.baseRate * 100) : 10
  const [rates, setRates] = useState<Record<string, number>>(() =>
    Object.fromEntries(test.design.arms.map(({ version }) => [version, base])),
  )
  const [pages, setPages] = useState(false)
  const [[returning, bots], setMix] = useState<readonly [number, number]>([10, 5])
  const [mishapOf, setMishaps] = useState<Readonly<Record<string, Mishap>>>({})
  const most = pages ? MOST_THROUGH_PAGES : 200_000
  const start = useTell('rehearsal.start')
  const send = () =>
    start.mutate(
      {
        test: test.id,
        plan: {
          visitors,
          days,
          seed,
          rates: test.design.arms.map(({ version }) => ({
            ...{ version, rate: (rates[version] ?? 0) / 100, mishap: mishapOf[version] ?? 'none' },
          })),
          ...(pages ? { through: 'pages', returning: returning / 100, bots: bots / 100 } : {}),
        },
      },
      { onError: (reason) => void message.error(reason.message, 8) },
    )
  const nameOf = (version: VersionId) => armName(test.design, test.versions, version)
  return (
    <>
      <section className="band" aria-label="Who comes">
        <OneUnder
          aria-label="Which way they come"
          value={pages ? 'pages' : 'counting'}
          change={(way) => {
            setPages(way === 'pages')
            setVisitors(way === 'pages' ? Math.min(visitors, 2000) : Math.max(visitors, 20_000))
          }}
          options={[
            { value: 'counting', label: 'Straight to deciding and counting: many, to see what such a test would find' },
            {
              value: 'pages',
              label: 'Through the pages, forms and reports, as visitors get and make them: to see that every version works',
            },
          ]}
        />
        <div className="plan-fields">
          <label>
            <span>Visitors</span>
            <NumberField aria-label="Visitors" value={visitors} min={100} max={most} step={1000} change={setVisitors} />
          </label>
          <label>
            <span>over days</span>
            <NumberField aria-label="Days" value={days} min={1} max={90} change={setDays} />
          </label>
          {test.design.arms.map(({ version }, index) => (
            <VersionTruth
              key={version}
              {...{ index, name: nameOf(version) }}
              rate={rates[version] ?? 0}
              setRate={(rate) => setRates({ ...rates, [version]: rate })}
              mishap={version === ORIGINAL ? null : (mishapOf[version] ?? 'none')}
              setMishap={(mishap) => setMishaps({ ...mishapOf, [version]: mishap })}
            />
          ))}
          {pages ? (
            <>
              <Share
                of="come back on another day"
                name="Share that comes back"
                value={returning}
                change={(value) => setMix([value, bots])}
              />
              <Share of="are bots" name="Share of bots" value={bots} change={(value) => setMix([returning, value])} />
            </>
          ) : null}
          <label>
            <span>Seed: the same seed brings the same visitors</span>
            <NumberField aria-label="Seed" value={seed} min={0} max={2_000_000_000} change={setSeed} />
          </label>
        </div>
        <Button look="primary" onClick={send} busy={start.isPending}>
          Send the visitors
        </Button>
      </section>
      <ManyTimes {...{ test, visitors, days, seed, rates, mishapOf }} />
    </>
  )
}

/** What is true of a version: its rate, and what is the matter with it that nobody has noticed. */
function VersionTruth({
  index,
  name,
  rate,
  setRate,
  mishap,
  setMishap,
}: {
  index: number
  name: string
  rate: number
  setRate: (rate: number) => void
  mishap: Mishap | null
  setMishap: (mishap: Mishap) => void
}) {
  return (
    <div className="truth">
      <label>
        <span>
          <VersionMark index={index} /> true rate of {name}
        </span>
        <NumberField aria-label={`True rate of ${name}`} value={rate} min={0} max={100} step={0.5} unit="%" change={setRate} />
      </label>
      {mishap === null ? null : (
        <Choice
          size="small"
          aria-label={`What is the matter with ${name}`}
          value={mishap}
          change={setMishap}
          options={mishaps.map((value) => ({ value, label: mishapWords[value] }))}
        />
      )}
    </div>
  )
}

function Share({ of, name, value, change }: { of: string; name: string; value: number; change: (value: number) => void }) {
  return (
    <label>
      <span>{of}</span>
      <NumberField aria-label={name} {...{ value, change }} min={0} max={100} unit="%" />
    </label>
  )
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
  const { pages, shown, bots, cameBack, wrong } = found
  const isWell = wrong.length === 0 && shown > 0
  const nameOf = (version: string) =>
    version === ORIGINAL ? 'the original' : `‘${rehearsal.versions.find(({ id }) => id === version)?.name ?? 'a variant'}’`
  return (
    <div className={isWell ? 'on-the-way' : 'on-the-way alarm'}>
      <p>
        {plural(pages, 'page was', 'pages were')} served{bots === 0 ? '' : `, ${count(bots)} to bots`}
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
