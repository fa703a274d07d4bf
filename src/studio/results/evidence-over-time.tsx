'use client'

import { area, line, scaleLinear, scaleUtc } from 'd3'
import type { ResultView } from '@/contract/contract'
import { signed } from '@/core/numbers'
import { colourOf, markPath } from '../frame/marks'
import { dayWords } from '../frame/wording'
import { ChartFrame, type ChartTable } from './chart-frame'

const [WIDTH, HEIGHT, LEFT, BOTTOM, RIGHT] = [760, 250, 58, 30, 20]

/** The interval as a ribbon that narrows day by day; a flag where it first cleared the line. */
export function EvidenceOverTime({ result, names }: { result: ResultView; names: (version: string) => string }) {
  const series = result.overTime.filter(({ points }) => points.length > 0)
  const days = series.flatMap(({ points }) => points.map(({ day }) => new Date(day)))
  if (days.length < 2) return <p className="quiet">Evidence over time is drawn from the second day on.</p>
  const settled = series.flatMap(({ points }) => points.slice(Math.floor(points.length / 4)))
  const reach = Math.min(
    1.5,
    Math.max(0.05, result.smallestEffect, ...settled.flatMap(({ lower, upper }) => [Math.abs(lower), Math.abs(upper)])),
  )
  const x = scaleUtc([new Date(Math.min(...days.map(Number))), new Date(Math.max(...days.map(Number)))], [LEFT, WIDTH - RIGHT])
  const y = scaleLinear([-reach, reach], [HEIGHT - BOTTOM, 12]).clamp(true)
  type Point = (typeof series)[number]['points'][number]
  const at = ({ day }: Point) => x(new Date(day))
  const ribbon = area<Point>()
    .x(at)
    .y0(({ lower }) => y(lower))
    .y1(({ upper }) => y(upper))
  const middle = line<Point>()
    .x(at)
    .y(({ lift }) => y(lift))
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
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label="How the interval of the lift narrowed day by day; the table has the figures."
      >
        <rect
          x={LEFT}
          y={y(result.smallestEffect)}
          width={WIDTH - LEFT - RIGHT}
          height={y(-result.smallestEffect) - y(result.smallestEffect)}
          className="no-worth"
        />
        {y.ticks(5).map((tick) => (
          <text key={tick} x={LEFT - 8} y={y(tick) + 4} textAnchor="end" className="tick">
            {tick === 0 ? 'original' : signed(tick)}
          </text>
        ))}
        <path d={`M${LEFT} ${y(0)}H${WIDTH - RIGHT}`} className="original-line" />
        {series.map(({ version, points }) => (
          <path key={version} d={ribbon(points) ?? ''} fill={colourOf(indexOf(version))} fillOpacity={0.2} />
        ))}
        {series.map(({ version, points }) => {
          const cleared = points.find((point) => point.cleared)
          return (
            <g key={version}>
              <path d={middle(points) ?? ''} fill="none" stroke={colourOf(indexOf(version))} strokeWidth={2} />
              {cleared === undefined ? null : (
                <g transform={`translate(${at(cleared)} 0)`}>
                  <path d={`M0 14V${HEIGHT - BOTTOM}`} className="cleared-line" />
                  <g transform="translate(-8 2)">
                    <path d={markPath(indexOf(version))} fill={colourOf(indexOf(version))} />
                  </g>
                  <text
                    x={at(cleared) > WIDTH - 190 ? -12 : 12}
                    y={14}
                    textAnchor={at(cleared) > WIDTH - 190 ? 'end' : 'start'}
                    className="tick"
                  >
                    clear since {dayWords(cleared.day)}
                  </text>
                </g>
              )}
            </g>
          )
        })}
        {x.ticks(6).map((tick) => (
          <text key={tick.toISOString()} x={x(tick)} y={HEIGHT - 8} textAnchor="middle" className="tick">
            {tick.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' })}
          </text>
        ))}
      </svg>
    </ChartFrame>
  )
}
