'use client'

import { intervalGeometry, type IntervalRow } from './interval-geometry'

const LONGEST = 30

/** Rows of intervals against the original’s line: right of the line is more. */
export function IntervalRows({
  rows,
  words,
  tickWords,
  band = null,
  unknown,
}: {
  rows: readonly IntervalRow[]
  /** All that it shows, for who cannot see it. */
  words: string
  tickWords: (value: number) => string
  /** A stretch that is shaded. */
  band?: readonly [number, number] | null
  /** What stands where there is no interval. */
  unknown: string
}) {
  const { width, height, zero, ticks, band: shaded, rows: placed } = intervalGeometry(rows, band)
  return (
    <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={words}>
      {shaded === null ? null : <rect className="no-worth" x={shaded.x} width={shaded.width} y={4} height={height - 28} />}
      {ticks.map(({ value, x }) => (
        <text key={value} x={x} y={height - 6} className="tick" textAnchor="middle">
          {value === 0 ? 'original' : tickWords(value)}
        </text>
      ))}
      <path d={`M${zero} 4V${height - 24}`} className="original-line" />
      {placed.map(({ of: { id, name, under }, y, line, point, measured, isClear }) => (
        <g key={id}>
          <text x={4} y={under === '' ? y + 4 : y - 4} className="row-name">
            {name.length > LONGEST ? `${name.slice(0, LONGEST - 1)}…` : name}
          </text>
          <text x={4} y={y + 12} className="tick">
            {under.length > LONGEST + 8 ? `${under.slice(0, LONGEST + 7)}…` : under}
          </text>
          {line === null ? (
            <text x={zero + 10} y={y + 4} className="tick">
              {unknown}
            </text>
          ) : (
            <path d={`M${line[0]} ${y}H${line[1]}`} className={isClear ? 'effect clear' : 'effect'} />
          )}
          {measured === null ? null : <circle cx={measured} cy={y} r={4.5} className="measured-point" />}
          {point === null ? null : (
            <circle cx={point} cy={y} r={5.5} className={measured === null ? 'effect-point' : 'likely-point'} />
          )}
        </g>
      ))}
    </svg>
  )
}
