'use client'

import { colourOf, markPath } from '../frame/marks'
import { intervalGeometry, type IntervalRow, type Spacing } from './interval-geometry'

const LONGEST = 30

interface Props extends Spacing {
  readonly rows: readonly IntervalRow[]
  /** All that it shows, for who cannot see it. */
  readonly words: string
  readonly tickWords: (value: number) => string
  /** What stands where there is no interval. */
  readonly unknown: string
}

/** Rows of intervals against the original’s line: right of the line is more. */
export function IntervalRows({ rows, words, tickWords, unknown, ...spacing }: Props) {
  const { width, height, zero, ticks, band, rows: placed } = intervalGeometry(rows, spacing)
  return (
    <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={words}>
      {band === null ? null : <rect className="no-worth" x={band.x} width={band.width} y={4} height={height - 28} />}
      {ticks.map(({ value, x }) => (
        <text key={value} x={x} y={height - 6} className="tick" textAnchor="middle">
          {value === 0 ? 'original' : tickWords(value)}
        </text>
      ))}
      <path d={`M${zero} 4V${height - 24}`} className="original-line" />
      {placed.map((row) => (
        <Row key={row.of.id} {...row} zero={zero} unknown={unknown} marked={spacing.together === undefined} />
      ))}
    </svg>
  )
}

type Placed = ReturnType<typeof intervalGeometry>['rows'][number]

function Row({
  of,
  y,
  line,
  point,
  measured,
  isStrong,
  zero,
  unknown,
  marked,
}: Placed & { zero: number; unknown: string; marked: boolean }) {
  const { name, under, version } = of
  const isMarked = marked && version !== undefined
  const left = isMarked ? 24 : 4
  const colour = version === undefined ? undefined : { stroke: colourOf(version) }
  return (
    <g>
      {isMarked ? (
        <g transform={`translate(0 ${y - 18})`}>
          <path d={markPath(version)} fill={colourOf(version)} />
        </g>
      ) : null}
      <text x={left} y={under === '' ? y + 4 : y - 4} className="row-name">
        {name.length > LONGEST ? `${name.slice(0, LONGEST - 1)}…` : name}
      </text>
      <text x={left} y={y + 12} className="tick">
        {under.length > LONGEST + 8 ? `${under.slice(0, LONGEST + 7)}…` : under}
      </text>
      {line === null ? (
        <text x={zero + 10} y={y + 4} className="tick">
          {unknown}
        </text>
      ) : (
        <path d={`M${line[0]} ${y}H${line[1]}`} className={isStrong ? 'effect clear' : 'effect'} style={colour} />
      )}
      {measured === null ? null : <circle cx={measured} cy={y} r={4.5} className="measured-point" />}
      {point === null ? null : (
        <circle cx={point} cy={y} r={5.5} className={measured === null ? 'effect-point' : 'likely-point'} style={colour} />
      )}
    </g>
  )
}
