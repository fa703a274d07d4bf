'use client'

import type { ResultView } from '@/contract/contract'
import { WHOLE } from '@/core/decide'
import { percent } from '@/core/numbers'
import { colourOf, markPath } from '../frame/marks'
import { momentWords } from '../frame/wording'
import { allocationGeometry } from './allocation-bands'
import { ChartFrame } from './chart-frame'
import { VersionNames } from './version-names'

/** What bands are parted with, and their marks are cut out of. */
const PAPER = '#FBF9F4'

/** How visitors were divided over time, where that was changed: each stretch is compared by itself. */
export function Allocation({ result, now }: { result: ResultView; now: number }) {
  const { epochs } = result
  const versions = result.rates.map(({ version }) => version as string)
  const names = result.rates.map(({ name }) => name)
  const drawn = allocationGeometry(epochs, versions, now)
  if (drawn === null) return null
  const index = (version: string) => versions.indexOf(version)
  return (
    <ChartFrame
      title="How visitors were divided"
      table={{
        columns: [
          { name: 'from', as: 'words' },
          { name: 'why', as: 'words' },
          { name: 'split', as: 'words' },
        ],
        rows: epochs.map(({ since, because, arms }) => [
          momentWords(since),
          because === '' ? 'it started' : because,
          arms.map(({ name, weight }) => `${name} ${percent(weight / WHOLE)}`).join(' · '),
        ]),
      }}
    >
      <svg viewBox={`0 0 ${drawn.width} ${drawn.height}`} role="img" aria-label="The split over time; the table has the figures.">
        {drawn.bands.map(({ version, ...place }) => (
          <rect key={`${version} ${place.x}`} {...place} fill={colourOf(index(version))} fillOpacity={0.8} stroke={PAPER} />
        ))}
        <VersionNames versions={names} from={drawn.left} to={drawn.width} />
        {drawn.marks.map(({ version, x, y }) => (
          <path
            key={version}
            transform={`translate(${x - 8} ${y - 8})`}
            d={markPath(index(version))}
            fill={PAPER}
            fillRule="evenodd"
          />
        ))}
        {drawn.levels.map(({ share, x, y }) => (
          <text key={share} x={x} y={y} textAnchor="end" className="tick">
            {percent(share)}
          </text>
        ))}
        {drawn.days.map(({ day, x }) => (
          <text key={day.toISOString()} x={x} y={drawn.height - 8} textAnchor="middle" className="tick">
            {day.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' })}
          </text>
        ))}
      </svg>
    </ChartFrame>
  )
}
