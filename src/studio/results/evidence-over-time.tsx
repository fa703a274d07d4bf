'use client'

import { area, line, scaleLinear, scaleUtc } from 'd3'
import type { ResultView } from '@/contract/contract'
import { signed } from '@/core/numbers'
import { colourOf, markPath } from '../frame/marks'
import { dayWords } from '../frame/wording'
import { ChartFrame, type ChartTable } from './chart-frame'
import { panelsFor, type Box } from './panels'

const [LEFT, BOTTOM, RIGHT] = [58, 30, 20]
/** More than these in one picture cannot be told apart: each then has a picture of its own. */
const MOST_TOGETHER = 2

type Series = ResultView['overTime'][number]
type Point = Series['points'][number]

/** The interval as a ribbon that narrows day by day; a flag where it first cleared the line. */
export function EvidenceOverTime({ result, names }: { result: ResultView; names: (version: string) => string }) {
  const series = result.overTime.filter(({ points }) => points.length > 0)
  const days = series.flatMap(({ points }) => points.map(({ day }) => Number(new Date(day))))
  if (new Set(days).size < 2) return <p className="quiet">Evidence over time is drawn from the second day on.</p>
  const settled = series.flatMap(({ points }) => points.slice(Math.floor(points.length / 4)))
  const reach = Math.min(
    1.5,
    Math.max(0.05, result.smallestEffect, ...settled.flatMap(({ lower, upper }) => [Math.abs(lower), Math.abs(upper)])),
  )
  const groups = series.length <= MOST_TOGETHER ? [series] : series.map((one) => [one])
  const { width, height, boxes } = panelsFor(groups.length)
  const table: ChartTable = {
    columns: [
      { name: 'variant', as: 'words' },
      { name: 'day', as: 'words' },
      { name: 'lift', as: 'lift' },
      { name: 'lower', as: 'lift' },
      { name: 'upper', as: 'lift' },
    ],
    rows: series.flatMap(({ version, points }) =>
      points.map(({ day, lift, lower, upper }) => [names(version), day, lift, lower, upper]),
    ),
  }
  const indexOf = (version: string) => result.overTime.findIndex((one) => one.version === version) + 1
  return (
    <ChartFrame title="Evidence over time" table={table}>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label="How the interval of the lift narrowed day by day; the table has the figures."
      >
        {groups.map((group, at) => {
          const box = boxes[at]
          const [only] = group
          return box === undefined || only === undefined ? null : (
            <Panel
              key={only.version}
              series={group}
              box={box}
              days={[Math.min(...days), Math.max(...days)]}
              reach={reach}
              worthHaving={result.smallestEffect}
              title={groups.length === 1 ? null : names(only.version)}
              indexOf={indexOf}
            />
          )
        })}
      </svg>
    </ChartFrame>
  )
}

/** All panels have the same scales, so that they can be compared. */
function Panel({
  series,
  box: { left, top, width, height },
  days,
  reach,
  worthHaving,
  title,
  indexOf,
}: {
  series: readonly Series[]
  box: Box
  days: readonly [number, number]
  reach: number
  worthHaving: number
  title: string | null
  indexOf: (version: string) => number
}) {
  const above = title === null ? 12 : 38
  const x = scaleUtc(days, [LEFT, width - RIGHT])
  const y = scaleLinear([-reach, reach], [height - BOTTOM, above]).clamp(true)
  const at = ({ day }: Point) => x(new Date(day))
  const ribbon = area<Point>()
    .x(at)
    .y0(({ lower }) => y(lower))
    .y1(({ upper }) => y(upper))
  const middle = line<Point>()
    .x(at)
    .y(({ lift }) => y(lift))
  const few = title !== null
  return (
    <g transform={`translate(${left} ${top})`}>
      {title === null ? null : (
        <text x={LEFT} y={14} className="row-name">
          {title}
        </text>
      )}
      <rect
        x={LEFT}
        y={y(worthHaving)}
        width={width - LEFT - RIGHT}
        height={y(-worthHaving) - y(worthHaving)}
        className="no-worth"
      />
      {y.ticks(few ? 3 : 5).map((tick) => (
        <text key={tick} x={LEFT - 8} y={y(tick) + 4} textAnchor="end" className="tick">
          {tick === 0 ? 'original' : signed(tick)}
        </text>
      ))}
      <path d={`M${LEFT} ${y(0)}H${width - RIGHT}`} className="original-line" />
      {series.map(({ version, points }) => (
        <path key={version} d={ribbon(points) ?? ''} fill={colourOf(indexOf(version))} fillOpacity={0.2} />
      ))}
      {series.map(({ version, points }) => (
        <g key={version}>
          <path d={middle(points) ?? ''} fill="none" stroke={colourOf(indexOf(version))} strokeWidth={2} />
          <Cleared points={points} at={at} index={indexOf(version)} box={{ width, top: above + 2, bottom: height - BOTTOM }} />
        </g>
      ))}
      {x.ticks(few ? 3 : 6).map((tick) => (
        <text key={tick.toISOString()} x={x(tick)} y={height - 8} textAnchor="middle" className="tick">
          {tick.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' })}
        </text>
      ))}
    </g>
  )
}

/** The day on which the interval first left the line. */
function Cleared({
  points,
  at,
  index,
  box: { width, top, bottom },
}: {
  points: readonly Point[]
  at: (point: Point) => number
  index: number
  box: { width: number; top: number; bottom: number }
}) {
  const cleared = points.find((point) => point.cleared)
  if (cleared === undefined) return null
  const isFarRight = at(cleared) > width - 190
  return (
    <g transform={`translate(${at(cleared)} 0)`}>
      <path d={`M0 ${top}V${bottom}`} className="cleared-line" />
      <g transform={`translate(-8 ${top - 12})`}>
        <path d={markPath(index)} fill={colourOf(index)} />
      </g>
      <text x={isFarRight ? -12 : 12} y={top} textAnchor={isFarRight ? 'end' : 'start'} className="tick">
        clear since {dayWords(cleared.day)}
      </text>
    </g>
  )
}
