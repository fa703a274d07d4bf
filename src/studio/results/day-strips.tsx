'use client'

import { max, scaleBand, scaleLinear } from 'd3'
import type { ResultView } from '@/contract/contract'
import { colourOf } from '../frame/marks'
import { ChartFrame, type ChartTable } from './chart-frame'

const [WIDTH, ROW, LEFT] = [760, 34, 170]

interface Props {
  readonly title: string
  readonly label: string
  readonly result: ResultView
  readonly of: 'exposed' | 'converters'
  readonly names: (version: string) => string
}

/** What each version counted a day, as thin strips on one scale, so that what is uneven is seen. */
export function DayStrips({ title, label, result, of, names }: Props) {
  const versions = result.rates.map(({ version }) => version)
  const days = result.arrivals.map(({ day }) => day)
  if (days.length === 0) return null
  const x = scaleBand(days, [LEFT, WIDTH - 4]).paddingInner(0.25)
  const highest = max(result.arrivals, ({ counts }) => max(counts, (count) => count[of])) ?? 1
  const y = scaleLinear([0, Math.max(1, highest)], [0, ROW - 8])
  const table: ChartTable = {
    columns: [{ name: 'day', as: 'words' }, ...versions.map((version) => ({ name: names(version), as: 'count' as const }))],
    rows: result.arrivals.map(({ day, counts }) => [day, ...counts.map((count) => count[of])]),
  }
  return (
    <ChartFrame title={title} table={table}>
      <svg viewBox={`0 0 ${WIDTH} ${versions.length * ROW + 6}`} role="img" aria-label={label}>
        {versions.map((version, index) => (
          <g key={version} transform={`translate(0 ${(index + 1) * ROW})`}>
            <text x={0} y={-8} className="row-name">
              {names(version).slice(0, 22)}
            </text>
            <path d={`M${LEFT} 0.500H${WIDTH}`} className="hairline" />
            {result.arrivals.map(({ day, counts }) => {
              const tall = y(counts.find((one) => one.version === version)?.[of] ?? 0)
              return <rect key={day} x={x(day)} y={-tall} width={x.bandwidth()} height={tall} fill={colourOf(index)} />
            })}
          </g>
        ))}
      </svg>
    </ChartFrame>
  )
}
