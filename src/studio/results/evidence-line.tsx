'use client'

import { area } from 'd3'
import { linear } from '../frame/linear'

/** The narrowing interval in the space of a word; the line is “no difference”. */
export function EvidenceLine({ points }: { points: readonly { day: string; lower: number; upper: number }[] }) {
  const [width, height] = [120, 30]
  const reach = Math.min(
    1.2,
    Math.max(
      0.05,
      ...points.slice(-Math.ceil(points.length * 0.7)).flatMap(({ lower, upper }) => [Math.abs(lower), Math.abs(upper)]),
    ),
  )
  const x = linear([0, points.length - 1], [1, width - 1])
  const place = linear([-reach, reach], [height - 1, 1])
  const y = (value: number) => place(Math.max(-reach, Math.min(reach, value)))
  const ribbon = area<(typeof points)[number]>()
    .x((_, index) => x(index))
    .y0(({ lower }) => y(lower))
    .y1(({ upper }) => y(upper))
  return (
    <svg width={width} height={height} aria-hidden="true" className="evidence-line">
      <path d={ribbon(points) ?? ''} className="ribbon" />
      <path d={`M0 ${y(0)}H${width}`} className="zero" />
    </svg>
  )
}
