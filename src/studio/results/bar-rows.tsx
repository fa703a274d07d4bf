'use client'

import { colourOf, markPath } from '../frame/marks'
import { barsGeometry, type BarRow, type Layout } from './bars-geometry'
import { VersionNames, withinLetters } from './version-names'

/** Letters of a name beside its bars, and above them. */
const [BESIDE, ABOVE] = [26, 90]

interface Props extends Layout {
  readonly rows: readonly BarRow[]
  /** Above each column; none for a single one that says it itself. */
  readonly heads?: readonly string[]
  /** The versions that marks stand for, where no row says it. */
  readonly versions?: readonly string[]
  /** All that it shows, for who cannot see it. */
  readonly words: string
}

/** Rows of bars, each with what it says behind its end. */
export function BarRows({ rows, heads = [], versions = [], words, above = false, room }: Props) {
  const { width, height, columns, rows: placed } = barsGeometry(rows, { room, above, named: versions.length > 0 })
  const longest = above ? ABOVE : BESIDE
  return (
    <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={words}>
      {heads.map((head, at) => (
        <text key={head} x={columns[at]} y={14} className="tick">
          {head}
        </text>
      ))}
      <VersionNames versions={versions} to={width} />
      {placed.map(({ of: { id, name, version, bars: said }, y, nameY, bars }) => (
        <g key={id}>
          {version === undefined ? null : (
            <g transform={`translate(0 ${y - 9})`}>
              <path d={markPath(version)} fill={colourOf(version)} />
            </g>
          )}
          <text x={version === undefined || above ? 0 : 22} y={nameY} className="row-name">
            {withinLetters(name, longest)}
          </text>
          {bars.map((bar, at) =>
            bar === null ? null : (
              <g key={columns[at]}>
                <rect x={bar.x} y={y - 7} width={bar.whole} height={14} className="rest" />
                <rect
                  x={bar.x}
                  y={y - 7}
                  width={Math.max(1, bar.long)}
                  height={14}
                  className="bar"
                  style={version === undefined ? undefined : { fill: colourOf(version) }}
                />
                <text x={bar.words} y={y + 4} className="tick">
                  {said[at]?.words}
                </text>
              </g>
            ),
          )}
        </g>
      ))}
    </svg>
  )
}
