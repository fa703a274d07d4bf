'use client'

import { scaleLinear } from 'd3'
import type { ResultView } from '@/contract/contract'
import { count, points, pointsBetween } from '@/core/numbers'
import { ChartFrame, type ChartTable } from './chart-frame'

const ROW = 40
const LEFT = 230
const WIDTH = 760
const RIGHT = 24

type Parts = NonNullable<ResultView['parts']>

/** In a test of combinations: what each version of each part adds, over whatever the other parts show. */
export function PartEffects({ parts: found, partNames }: { parts: Parts; partNames: readonly string[] }) {
  const { levels, pairs } = found
  const told = levels.flatMap(({ interval, difference }) => [...(interval ?? []), difference ?? 0])
  const reach = Math.max(0.001, ...told.map(Math.abs)) * 1.1
  const x = scaleLinear([-reach, reach], [LEFT, WIDTH - RIGHT]).clamp(true)
  const height = levels.length * ROW + 40
  const table: ChartTable = {
    columns: [
      { name: 'part', as: 'words' },
      { name: 'version', as: 'words' },
      { name: 'saw it', as: 'count' },
      { name: 'reached the goal', as: 'count' },
      { name: 'adds', as: 'points' },
      { name: 'lower', as: 'points' },
      { name: 'upper', as: 'points' },
    ],
    rows: levels.map(({ part, name, exposed, converters, difference, interval }) => [
      ...[partNames[part] ?? '', name, exposed, converters, difference, interval?.[0] ?? null, interval?.[1] ?? null],
    ]),
  }
  const words = levels.map(({ part, name, interval }) => `${partNames[part] ?? ''}: ‘${name}’ ${levelWords(interval)}`)
  return (
    <ChartFrame title="Which part does what" table={table}>
      <svg viewBox={`0 0 ${WIDTH} ${height}`} role="img" aria-label={words.join('. ')}>
        {x.ticks(6).map((tick) => (
          <text key={tick} x={x(tick)} y={height - 8} className="tick" textAnchor="middle">
            {tick === 0 ? 'original' : points(tick).replace(/ points?$/, '')}
          </text>
        ))}
        <path d={`M${x(0)} 6V${height - 24}`} className="original-line" />
        {levels.map(({ part, version, name, difference, interval }, index) => {
          const y = 10 + index * ROW + ROW / 2
          const clear = interval !== null && (interval[0] > 0 || interval[1] < 0)
          return (
            <g key={`${part} ${version}`}>
              <text x={4} y={y - 4} className="row-name">
                {name.length > 28 ? `${name.slice(0, 27)}…` : name}
              </text>
              <text x={4} y={y + 12} className="tick">
                {partNames[part]}
              </text>
              {interval === null ? (
                <text x={x(0) + 10} y={y + 4} className="tick">
                  too early
                </text>
              ) : (
                <path d={`M${x(interval[0])} ${y}H${x(interval[1])}`} className={clear ? 'effect clear' : 'effect'} />
              )}
              {difference === null ? null : <circle cx={x(difference)} cy={y} r={5.5} className="effect-point" />}
            </g>
          )
        })}
      </svg>
      <p className="quiet">
        What each version adds to its part’s original, in points of a hundred visitors, whatever the other parts show. Safe to
        look at daily, for all of them together.
      </p>
      {pairs.length === 0 ? null : (
        <ul className="plain-list">
          {pairs
            .filter(({ beyondChance }, index) => beyondChance || index === 0)
            .map(({ names: [one, other], parts, difference, interval, beyondChance }) => (
              <li key={`${parts.join(' ')} ${one} ${other}`}>
                {beyondChance
                  ? `‘${one}’ and ‘${other}’ together bring ${difference > 0 ? 'more' : 'less'} than each by itself: ${pointsBetween(interval)}.`
                  : 'Nothing says that any two of them work differently together than each by itself.'}
              </li>
            ))}
        </ul>
      )}
    </ChartFrame>
  )
}

function levelWords(interval: readonly [number, number] | null): string {
  return interval === null ? 'cannot be told yet' : `adds ${pointsBetween(interval)}`
}

/** Other tests that the same visitors were in. */
export function BesideOthers({ beside }: { beside: ResultView['beside'] }) {
  if (beside.length === 0) return null
  return (
    <section className="beside-others" aria-label="Tests that ran beside it">
      <h3>Tests that ran beside it</h3>
      <ul className="plain-list">
        {beside.map(({ round, words, visitors, differs }) => (
          <li key={round} className={differs ? 'asks' : ''}>
            {words} <span className="quiet">{count(visitors)} visitors were in both.</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
