'use client'

import { line } from 'd3'
import { linear } from './linear'

/** How often, day by day, in the space of a word. The last is today, which is not over: what it has so far is no fall. */
export function DaysLine({ days, wide }: { days: readonly number[]; wide?: boolean }) {
  const [width, height] = wide ? [276, 60] : [96, 24]
  const x = linear([0, Math.max(1, days.length - 1)], [3, width - 3])
  const y = linear([0, Math.max(1, ...days)], [height - 3, 3])
  const path = line<number>()
    .x((day) => x(day))
    .y((day) => y(days[day] ?? 0))
  const over = days.slice(0, -1).map((_, day) => day)
  return (
    <svg viewBox={`0 0 ${width} ${height}`} width={width} height={height} aria-hidden="true" className="days-line">
      <path d={path(over) ?? ''} />
      <path className="so-far" d={path([...over.slice(-1), days.length - 1]) ?? ''} />
      <circle cx={x(days.length - 1)} cy={y(days.at(-1) ?? 0)} r="2" />
    </svg>
  )
}
