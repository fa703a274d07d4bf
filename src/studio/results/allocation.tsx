'use client'

import { scaleUtc } from 'd3'
import type { ResultView } from '@/contract/contract'
import { WHOLE } from '@/core/decide'
import { percent } from '@/core/numbers'
import { colourOf } from '../frame/marks'
import { momentWords } from '../frame/wording'
import { bandsOf } from './allocation-bands'
import { ChartFrame } from './chart-frame'

const [WIDTH, HEIGHT, LEFT, BOTTOM, RIGHT] = [760, 170, 58, 30, 20]

/** How visitors were divided over time, where that was changed: each stretch is compared by itself. */
export function Allocation({ result, now }: { result: ResultView; now: number }) {
  const { epochs } = result
  const [first] = epochs
  if (epochs.length < 2 || first === undefined) return null
  const versions = result.rates.map(({ version }) => version as string)
  const began = new Date(first.since)
  const x = scaleUtc([began, new Date(now)], [LEFT, WIDTH - RIGHT])
  const [width, height] = [WIDTH - LEFT - RIGHT, HEIGHT - BOTTOM - 8]
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
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label="The split over time; the table has the figures.">
        {bandsOf(epochs, versions, now).map(({ version, from, to, low, high }) => (
          <rect
            key={`${version} ${from}`}
            x={LEFT + from * width}
            y={8 + low * height}
            width={Math.max(0.5, (to - from) * width)}
            height={(high - low) * height}
            fill={colourOf(index(version))}
            fillOpacity={0.55}
          />
        ))}
        {['0%', '50%', '100%'].map((words, at) => (
          <text key={words} x={LEFT - 8} y={12 + (at / 2) * height} textAnchor="end" className="tick">
            {words}
          </text>
        ))}
        {x.ticks(6).map((tick) => (
          <text key={tick.toISOString()} x={x(tick)} y={HEIGHT - 8} textAnchor="middle" className="tick">
            {tick.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' })}
          </text>
        ))}
      </svg>
    </ChartFrame>
  )
}
