'use client'

import Link from 'next/link'
import type { KindView } from '@/contract/contract'
import { FEWEST_TESTS } from '@/core/experiment'
import { limitWords, signed } from '@/core/numbers'
import { Note, Waiting } from '../frame/screen'
import { count, plural } from '../frame/wording'
import { ChartFrame, type ChartTable } from '../results/chart-frame'
import { IntervalRows } from '../results/interval-rows'
import { useAsk } from '../talk'

/** Settled tests of the same kind beside each other: how often they paid, and by how much. */
export function KindsCompared() {
  const asked = useAsk('notebook.kinds', {})
  if (asked.data === undefined) return <Waiting error={asked.error} again={() => void asked.refetch()} />
  const { kinds } = asked.data
  if (kinds.length === 0)
    return <p className="empty">Nothing to compare yet. Every test that is settled is put beside those of its kind.</p>
  return kinds.map((kind) => <Kind key={kind.kind} of={kind} />)
}

function Kind({ of }: { of: KindView }) {
  const { kind, tests, paid, average, likely, each } = of
  return (
    <section className="band" aria-label={`Tests of a ${kind}`}>
      <h2 className="capital">{kind}</h2>
      <p className="sentence small">
        {plural(tests, 'test', 'tests')} settled; {paid === 0 ? 'none paid' : `${count(paid)} paid`}.{' '}
        {average === null || likely === null
          ? `From ${FEWEST_TESTS} that say something on, they are compared.`
          : `A variant changed its rate by ${limitWords(average.lift)} on average (between ${limitWords(average.interval[0])} and ${limitWords(average.interval[1])}); the next is likely to change it by between ${limitWords(likely[0])} and ${limitWords(likely[1])}.`}
      </p>
      {each.length === 0 ? null : <Gains of={of} />}
      <ul className="plain-list">
        {each.map(({ test, name, lift, shrunk }) => (
          <li key={test}>
            <Link href={`/tests/${test}`}>{name}</Link>: measured {limitWords(lift)}
            {average === null ? '' : `, likely ${limitWords(shrunk)}`}
          </li>
        ))}
      </ul>
    </section>
  )
}

/** What each had, hollow, and what is likely true of it, full, with its interval; the band is the average of the kind. */
function Gains({ of: { kind, average, each } }: { of: KindView }) {
  const table: ChartTable = {
    columns: [
      { name: 'test', as: 'words' },
      { name: 'measured', as: 'lift' },
      { name: 'likely', as: 'lift' },
      { name: 'lower', as: 'lift' },
      { name: 'upper', as: 'lift' },
    ],
    rows: each.map(({ name, lift, shrunk, interval }) => [name, lift, shrunk, ...interval]),
  }
  return (
    <ChartFrame title={`Gains of tests of a ${kind}`} table={table}>
      <IntervalRows
        rows={each.map(({ test, name, lift, shrunk, interval }) => ({
          ...{ id: test, name, under: '', interval, point: shrunk, measured: lift },
        }))}
        words={each.map(({ name, shrunk }) => `${name}: likely ${limitWords(shrunk)}`).join('. ')}
        tickWords={signed}
        band={average?.interval ?? null}
        unknown=""
      />
      <p className="quiet">
        Hollow: as measured. Full: what is likely true of it, with its interval.{' '}
        {average === null ? '' : 'The shaded band is the average of this kind.'}
      </p>
    </ChartFrame>
  )
}

export function AboutKinds() {
  return (
    <Note title="Why they are drawn together">
      The largest of many gains is mostly too large: chance helped it to be the largest. Each gain is moved towards the mean of
      its kind, the more the fewer visitors it had. A new test can be planned by this: its forecast asks whether to.
    </Note>
  )
}
