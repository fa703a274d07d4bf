'use client'

import { scaleLinear } from 'd3'
import type { ResultView } from '@/contract/contract'
import { readingWords } from '@/core/experiment'
import { percent, signed } from '@/core/numbers'
import { Check } from '../controls/choices'
import { colourOf, markPath } from '../frame/marks'
import { useAddress } from '../frame/use-address'
import { ChartFrame, type ChartTable } from './chart-frame'

const ROW = 46
const LEFT = 190
const WIDTH = 760
const RIGHT = 24

/** A row for each variant: interval and point against the original's line; right of the line is more. */
export function LiftIntervals({ result }: { result: ResultView }) {
  const { smallestEffect, steadied } = result
  const [asks, narrow] = useAddress(['before'])
  const takenOut = steadied !== null && asks.before === 'out'
  const variants = takenOut
    ? result.variants.map((one) => ({ ...one, ...steadied.variants.find(({ version }) => version === one.version) }))
    : result.variants
  const reach =
    Math.max(
      smallestEffect * 1.5,
      ...variants
        .flatMap(({ liftInterval, lift }) => [...(liftInterval ?? []), lift ?? 0])
        .map((value) => Math.min(2, Math.abs(value))),
    ) * 1.12
  const x = scaleLinear([-reach, reach], [LEFT, WIDTH - RIGHT]).clamp(true)
  const height = variants.length * ROW + 44
  const table: ChartTable = {
    columns: [
      { name: 'variant', as: 'words' },
      { name: 'reading', as: 'words' },
      { name: 'lift', as: 'lift' },
      { name: 'lower', as: 'lift' },
      { name: 'upper', as: 'lift' },
      { name: 'always-valid p', as: 'pValue' },
    ],
    rows: variants.map(({ name, reading, lift, liftInterval, pValue }) => [
      name,
      readingWords[reading],
      lift,
      liftInterval?.[0] ?? null,
      liftInterval?.[1] ?? null,
      pValue,
    ]),
  }
  return (
    <ChartFrame
      title={takenOut ? 'Lift over the original, what was done before taken out' : 'Lift over the original'}
      table={table}
    >
      <svg viewBox={`0 0 ${WIDTH} ${height}`} role="img" aria-label={variants.map(({ words }) => words).join(' ')}>
        <rect
          x={x(-smallestEffect)}
          y={14}
          width={x(smallestEffect) - x(-smallestEffect)}
          height={height - 40}
          className="no-worth"
        />
        {x.ticks(7).map((tick) => (
          <text key={tick} x={x(tick)} y={height - 8} className="tick" textAnchor="middle">
            {tick === 0 ? 'original' : signed(tick)}
          </text>
        ))}
        <path d={`M${x(0)} 8V${height - 24}`} className="original-line" />
        {variants.map(({ version, name, lift, liftInterval, reading }, index) => {
          const y = 18 + index * ROW + ROW / 2
          const settled = reading === 'better' || reading === 'worse' || reading === 'noDifference'
          return (
            <g key={version}>
              <g transform={`translate(0 ${y - 18})`}>
                <path d={markPath(index + 1)} fill={colourOf(index + 1)} />
              </g>
              <text x={22} y={y - 5} className="row-name">
                {name.length > 24 ? `${name.slice(0, 23)}…` : name}
              </text>
              <text x={22} y={y + 12} className="tick">
                {readingWords[reading]}
              </text>
              {liftInterval === null || reading === 'notToBeTrusted' ? null : (
                <path
                  d={`M${x(liftInterval[0])} ${y}H${x(liftInterval[1])}`}
                  stroke={colourOf(index + 1)}
                  strokeWidth={settled ? 11 : 5}
                  opacity={settled ? 0.9 : 0.55}
                />
              )}
              {lift === null || reading === 'notToBeTrusted' ? null : (
                <circle cx={x(lift)} cy={y} r={6.5} fill="#FBF9F4" stroke={colourOf(index + 1)} strokeWidth={2.5} />
              )}
            </g>
          )
        })}
      </svg>
      <p className="quiet">
        The shaded band is no difference worth having (under {percent(smallestEffect)}). Intervals hold at every moment at once:
        looking daily does no harm.
      </p>
      {steadied === null ? null : (
        <div className="steadied not-printed">
          <Check checked={takenOut} change={(on) => narrow({ before: on ? 'out' : '' })}>
            Take out what visitors had done before they saw it
          </Check>
          <p className="quiet">
            {steadied.words}
            {takenOut ? ' The sentence and the readings go by the plain numbers all the same.' : ''}
          </p>
        </div>
      )}
    </ChartFrame>
  )
}
