'use client'

import { scaleLinear } from 'd3'
import type { ResultView } from '@/contract/contract'
import { signed } from '@/core/numbers'
import { colourOf } from '../frame/marks'
import { ChartFrame, type ChartTable } from './chart-frame'

const [WIDTH, ROW, LEFT, RIGHT] = [760, 24, 190, 24]

const stretchWords = ({ from, to }: ResultView['ages'][number]) =>
  to === 0 ? 'on the first day' : from === to ? `after ${from} day` : `after ${from} to ${to} days`

/** Whether what a variant adds wears off: its lift by the days since its visitors first saw it. */
export function EffectByAge({ result, names }: { result: ResultView; names: (version: string) => string }) {
  const { ages, rates } = result
  if (ages.length < 2) return null
  const variants = rates.slice(1).map(({ version }) => version)
  const limits = ages.flatMap(({ lifts }) => lifts.flatMap(({ lift, interval }) => [lift ?? 0, ...(interval ?? [])]))
  const reach = Math.max(0.1, ...limits.map((value) => Math.min(2, Math.abs(value)))) * 1.1
  const x = scaleLinear([-reach, reach], [LEFT, WIDTH - RIGHT]).clamp(true)
  const tall = variants.length * ROW + 10
  const height = ages.length * tall + 30
  const table: ChartTable = {
    columns: [
      { name: 'days since first seen', as: 'words' },
      { name: 'variant', as: 'words' },
      { name: 'lift', as: 'lift' },
      { name: 'lower', as: 'lift' },
      { name: 'upper', as: 'lift' },
    ],
    rows: ages.flatMap((age) =>
      age.lifts.map(({ version, lift, interval }) => [
        stretchWords(age),
        names(version),
        lift,
        interval?.[0] ?? null,
        interval?.[1] ?? null,
      ]),
    ),
  }
  return (
    <ChartFrame title="By days since first seen" table={table}>
      <svg
        viewBox={`0 0 ${WIDTH} ${height}`}
        role="img"
        aria-label="The lift of each variant by the days since its visitors first saw it; the table has the figures."
      >
        {x.ticks(7).map((tick) => (
          <text key={tick} x={x(tick)} y={height - 6} className="tick" textAnchor="middle">
            {tick === 0 ? 'original' : signed(tick)}
          </text>
        ))}
        <path d={`M${x(0)} 4V${height - 22}`} className="original-line" />
        {ages.map((age, at) => (
          <g key={age.from} transform={`translate(0 ${at * tall + 6})`}>
            <text x={0} y={ROW / 2 + 5} className="row-name">
              {stretchWords(age)}
            </text>
            {age.lifts.map(({ version, lift, interval }, index) => {
              if (lift === null || interval === null) return null
              const colour = colourOf(variants.indexOf(version) + 1)
              const y = index * ROW + ROW / 2
              return (
                <g key={version}>
                  <path d={`M${x(interval[0])} ${y}H${x(interval[1])}`} stroke={colour} strokeWidth={5} opacity={0.55} />
                  <circle cx={x(lift)} cy={y} r={5} fill="#FBF9F4" stroke={colour} strokeWidth={2.5} />
                </g>
              )
            })}
          </g>
        ))}
      </svg>
      <p className="quiet">
        An effect of the first days that is gone later was its novelty. These intervals hold for one look each: to explore, not to
        decide.
      </p>
    </ChartFrame>
  )
}
