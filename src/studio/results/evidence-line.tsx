'use client'

import { evidenceLine } from './evidence-geometry'

const [WIDTH, HEIGHT] = [120, 30]

/** The narrowing interval in the space of a word; the line is “no difference”. */
export function EvidenceLine({ points }: { points: readonly { lower: number; upper: number }[] }) {
  const { ribbon, zero } = evidenceLine(points, [WIDTH, HEIGHT])
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true" className="evidence-line">
      <path d={ribbon} className="ribbon" />
      <path d={`M0 ${zero}H${WIDTH}`} className="zero" />
    </svg>
  )
}
