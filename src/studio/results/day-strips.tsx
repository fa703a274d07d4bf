'use client'

import type { ResultView } from '@/contract/contract'
import { colourOf } from '../frame/marks'
import { ChartFrame, type ChartTable } from './chart-frame'
import { stripsGeometry } from './strips-geometry'

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
  if (result.arrivals.length === 0) return null
  const { width, height, left, bar, strips } = stripsGeometry(
    versions,
    result.arrivals.map(({ day, counts }) => ({ day, counts: new Map(counts.map((count) => [count.version, count[of]])) })),
  )
  const table: ChartTable = {
    columns: [{ name: 'day', as: 'words' }, ...versions.map((version) => ({ name: names(version), as: 'count' as const }))],
    rows: result.arrivals.map(({ day, counts }) => [day, ...counts.map((count) => count[of])]),
  }
  return (
    <ChartFrame title={title} table={table}>
      <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={label}>
        {strips.map(({ version, y, bars }, index) => (
          <g key={version} transform={`translate(0 ${y})`}>
            <text x={0} y={-8} className="row-name">
              {names(version).slice(0, 22)}
            </text>
            <path d={`M${left} 0.500H${width}`} className="hairline" />
            {bars.map(({ day, x, tall }) => (
              <rect key={day} x={x} y={-tall} width={bar} height={tall} fill={colourOf(index)} />
            ))}
          </g>
        ))}
      </svg>
    </ChartFrame>
  )
}
