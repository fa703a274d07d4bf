'use client'

import { colourOf, markPath } from '../frame/marks'

/** How wide a letter is, about. */
const LETTER = 8
const MARK = 24

/** The versions that the colours and marks of a picture stand for, side by side above it. */
export function VersionNames({ versions, from = 0, to }: { versions: readonly string[]; from?: number; to: number }) {
  const each = (to - from) / Math.max(1, versions.length)
  return versions.map((name, at) => (
    <g key={name} transform={`translate(${from + at * each} 0)`}>
      <path d={markPath(at)} fill={colourOf(at)} fillRule="evenodd" />
      <text x={MARK} y={14} className="tick">
        {withinLetters(name, Math.floor((each - MARK) / LETTER))}
      </text>
    </g>
  ))
}

export const withinLetters = (name: string, most: number) => (name.length > most ? `${name.slice(0, most - 1)}…` : name)
