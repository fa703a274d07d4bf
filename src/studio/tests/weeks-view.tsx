'use client'

import Link from 'next/link'
import { useState } from 'react'
import type { Output } from '@/contract/contract'
import { mondayOf, mostAtOnce, placeIn, statusWords, weeksFrom } from '@/core/experiment'
import { Button } from '../controls/button'
import { Waiting } from '../frame/screen'
import { dayWords, momentWords, plural } from '../frame/wording'
import { useAsk } from '../talk'

const WEEKS = 8
type Line = Output<'test.calendar'>['lines'][number]
type Window = Pick<Output<'test.calendar'>, 'from' | 'to'>

/** All tests in weeks, page by page, so that those that run together stand under each other. */
export function WeeksView() {
  const [now] = useState(() => Date.now())
  const today = new Date(now).toISOString().slice(0, 10)
  const [from, setFrom] = useState(() => weeksBefore(mondayOf(today), 3))
  const asked = useAsk('test.calendar', { from, weeks: WEEKS })
  const found = asked.data
  const pages = [...new Set(found?.lines.map(({ document }) => document) ?? [])]
  return (
    <>
      <div className="weeks-head">
        <Button size="small" onClick={() => setFrom(weeksBefore(from, 4))}>
          Four weeks earlier
        </Button>
        <Button size="small" onClick={() => setFrom(weeksBefore(mondayOf(today), 3))}>
          Around today
        </Button>
        <Button size="small" onClick={() => setFrom(weeksFrom(from, 5)[4] ?? from)}>
          Four weeks later
        </Button>
      </div>
      {found === undefined ? <Waiting error={asked.error} again={() => void asked.refetch()} /> : null}
      {found === undefined ? null : found.lines.length === 0 ? (
        <p className="empty">No test runs in these weeks, and none is planned to.</p>
      ) : (
        <div className="weeks" role="region" aria-label="Tests by weeks" tabIndex={0}>
          <WeekHeads from={from} today={found.today} window={found} now={now} />
          {pages.map((document) => {
            const lines = found.lines.filter((line) => line.document === document)
            return <PageWeeks key={document} lines={lines} window={found} now={now} />
          })}
        </div>
      )}
    </>
  )
}

const weeksBefore = (monday: string, weeks: number) => {
  const at = new Date(`${monday}T00:00:00Z`)
  return new Date(at.getTime() - weeks * 7 * 86_400_000).toISOString().slice(0, 10)
}

const asWindow = ({ from, to }: Window) => ({ from: new Date(from), to: new Date(to) })

function WeekHeads({ from, today, window, now }: { from: string; today: string; window: Window; now: number }) {
  const { left } = placeIn(asWindow(window), { from: new Date(now), to: null, isPlanned: false }) ?? { left: null }
  return (
    <div className="weeks-row weeks-heads" aria-hidden="true">
      <span />
      <div className="weeks-track">
        {weeksFrom(from, WEEKS).map((monday) => (
          <span key={monday} className={mondayOf(today) === monday ? 'this-week' : ''}>
            {dayWords(monday).replace(/ \d{4}$/, '')}
          </span>
        ))}
        {left === null ? null : <i className="weeks-now" style={{ insetInlineStart: `${left * 100}%` }} />}
      </div>
    </div>
  )
}

function PageWeeks({ lines, window, now }: { lines: readonly Line[]; window: Window; now: number }) {
  const frame = asWindow(window)
  const runs = lines.flatMap((line) => line.runs.map(readRun))
  const together = mostAtOnce(frame, runs)
  const today = (now - frame.from.getTime()) / (frame.to.getTime() - frame.from.getTime())
  return (
    <section className="weeks-page">
      <h3>
        {lines[0]?.page} {together < 2 ? null : <span className="quiet">{plural(together, 'test', 'tests')} at once</span>}
      </h3>
      {lines.map((line) => (
        <div key={line.id} className="weeks-row">
          <Link href={`/tests/${line.id}`}>{line.name}</Link>
          <div className="weeks-track">
            {line.runs.map((run) => {
              const place = placeIn(frame, readRun(run))
              if (place === null) return null
              const words = `${run.isPlanned ? 'planned' : statusWords[line.status]}: ${momentWords(run.from)} to ${run.to === null ? 'an open end' : momentWords(run.to)}`
              // What is still to come is fainter than what has been.
              const passed = Math.min(place.right, Math.max(place.left, today))
              return (
                <span key={run.from} role="img" aria-label={words} title={words}>
                  {run.isPlanned ? null : <Bar from={place.left} to={passed} as={line.status} />}
                  <Bar
                    from={run.isPlanned ? place.left : passed}
                    to={place.right}
                    as={`${run.isPlanned ? 'planned' : `${line.status} ahead`} ${place.goesOn ? 'goes-on' : ''}`}
                  />
                </span>
              )
            })}
          </div>
        </div>
      ))}
    </section>
  )
}

function Bar({ from, to, as }: { from: number; to: number; as: string }) {
  if (to <= from) return null
  return <i className={`weeks-run ${as}`} style={{ insetInlineStart: `${from * 100}%`, width: `${(to - from) * 100}%` }} />
}

const readRun = ({ from, to, isPlanned }: Line['runs'][number]) => ({
  from: new Date(from),
  to: to === null ? null : new Date(to),
  isPlanned,
})
