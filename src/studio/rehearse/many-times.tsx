'use client'

import { useEffect, useRef, useState } from 'react'
import type { TestView } from '@/contract/contract'
import { armName } from '@/core/experiment'
import type { VersionId } from '@/core/ids'
import { roughPercent, signed } from '@/core/numbers'
import { outcomes, type Mishap, type Outcome, type Runs } from '@/core/simulate'
import { Button } from '../controls/button'
import { VersionMark } from '../frame/marks'
import { count, plural } from '../frame/wording'
import type { ManyAsked } from './many-worker'

const RUNS = 1000

export const mishapWords: { readonly [Of in Mishap]: string } = {
  none: 'works as it should',
  deadButton: 'its button does not work',
  lost: 'one in ten does not report',
  fades: 'its effect fades in days',
}

const outcomeWords: { readonly [Of in Outcome]: string } = {
  right: 'read rightly',
  tooEarly: 'too early to say',
  alarm: 'not to be trusted, and said so',
  wrong: 'read wrongly',
}

interface Props {
  readonly test: TestView
  readonly visitors: number
  readonly days: number
  readonly seed: number
  readonly weekends: number
  /** In hundredths, by version. */
  readonly rates: Readonly<Record<string, number>>
  /** What is the matter with each variant. */
  readonly mishapOf: Readonly<Record<string, Mishap>>
}

/** The same test a thousand times in this browser: how often what its reader is told is right. */
export function ManyTimes({ test, visitors, days, seed, weekends, rates, mishapOf }: Props) {
  const { design, versions } = test
  const variants = design.arms.slice(1)
  const [runs, setRuns] = useState<Runs | null>(null)
  const [going, setGoing] = useState(false)
  const worker = useRef<Worker | null>(null)
  const stop = () => {
    worker.current?.terminate()
    worker.current = null
    setGoing(false)
  }
  useEffect(() => () => worker.current?.terminate(), [])
  const begin = () => {
    stop()
    setRuns(null)
    setGoing(true)
    const made = new Worker(new URL('./many-worker.ts', import.meta.url), { type: 'module' })
    worker.current = made
    made.addEventListener('message', ({ data }: MessageEvent<Runs>) => {
      setRuns(data)
      if (data.done === RUNS) stop()
    })
    made.addEventListener('error', stop)
    const asked: ManyAsked = {
      runs: RUNS,
      plan: {
        ...{ visitors, days, seed, weekends, smallestEffect: design.smallestEffect, plannedTotal: visitors },
        arms: design.arms.map(({ version, weight }) => ({
          ...{ weight, rate: (rates[version] ?? 0) / 100 },
          mishap: mishapOf[version] ?? 'none',
        })),
      },
    }
    made.postMessage(asked)
  }
  const nameOf = (version: VersionId) => armName(design, versions, version)
  return (
    <section className="band many-times" aria-label="A thousand times">
      <h2>A thousand times</h2>
      <p className="quiet">
        One rehearsal is one throw of the dice. Here the same test is made up {count(RUNS)} times in this browser, each with other
        visitors, and read every day as the real one would be.
      </p>
      <p>
        {going ? <Button onClick={stop}>Stop</Button> : <Button onClick={begin}>Run it {count(RUNS)} times</Button>}{' '}
        {runs !== null && (going || runs.done < RUNS) ? <progress aria-label="Runs done" value={runs.done} max={RUNS} /> : null}
      </p>
      {runs === null
        ? null
        : runs.variants.map((of, index) => {
            const version = variants[index]?.version
            return version === undefined ? null : (
              <Outcomes key={version} of={of} done={runs.done} name={nameOf(version)} index={index + 1} days={days} />
            )
          })}
    </section>
  )
}

function Outcomes({
  of,
  done,
  name,
  index,
  days,
}: {
  of: Runs['variants'][number]
  done: number
  name: string
  index: number
  days: number
}) {
  const { truth, counts, calledOn } = of
  const called = [...calledOn].sort((one, other) => one - other)
  const middle = called[Math.floor(called.length / 2)]
  return (
    <figure className="outcomes">
      <figcaption>
        <VersionMark index={index} /> <strong>{name}</strong>, truly{' '}
        {truth === 0 ? 'the same as the original in the long run' : `${signed(truth)} against the original`}:{' '}
        {outcomes
          .filter((outcome) => counts[outcome] > 0)
          .map((outcome) => `${outcomeWords[outcome]} in ${roughPercent(counts[outcome] / done)}`)
          .join(', ')}{' '}
        of {plural(done, 'run', 'runs')}.{' '}
        {middle === undefined
          ? 'It was never called better or worse.'
          : `It was called better or worse in ${roughPercent(called.length / done)}, half of those by day ${middle} of ${days}.`}
      </figcaption>
      <div className="outcome-bar" aria-hidden="true">
        {outcomes.map((outcome) => (
          <span
            key={outcome}
            className={`outcome is-${outcome}`}
            style={{ flexGrow: counts[outcome] }}
            title={outcomeWords[outcome]}
          />
        ))}
      </div>
      <ul className="outcome-key">
        {outcomes.map((outcome) => (
          <li key={outcome}>
            <span className={`outcome is-${outcome}`} aria-hidden="true" /> {outcomeWords[outcome]}: {count(counts[outcome])}
          </li>
        ))}
      </ul>
    </figure>
  )
}
