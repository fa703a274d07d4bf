'use client'

import { line } from 'd3'
import { linear } from './linear'

/** How often, day by day, in the space of a word. */
export function DaysLine({ days, wide }: { days: readonly number[]; wide?: boolean }) {
  const [width, height] = wide ? [276, 60] : [96, 24]
  const x = linear([0, Math.max(1, days.length - 1)], [2, width - 2])
  const y = linear([0, Math.max(1, ...days)], [height - 2, 3])
  const path = line<number>()
    .x((_, index) => x(index))
    .y((times) => y(times))
  return (
    <svg viewBox={`0 0 ${width} ${height}`} width={width} height={height} aria-hidden="true" className="days-line">
      <path d={path([...days]) ?? ''} />
      <circle cx={x(days.length - 1)} cy={y(days.at(-1) ?? 0)} r="2" />
    </svg>
  )
}
