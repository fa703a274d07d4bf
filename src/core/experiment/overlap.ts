import { fitting, resolved, type Segment, type Visitor } from '../decide'
import type { SegmentId } from '../ids'

/** Of those whom one segment fits, how many another one fits as well. */
export interface Overlap {
  readonly id: SegmentId
  readonly both: number
  readonly of: number
}

/**
 * For every segment, the others by how much they have in common with it, the most first.
 *
 * @param recent a sample of those who came, as they were on their last visit
 */
export function overlaps(segments: readonly Segment[], recent: readonly Visitor[]): ReadonlyMap<SegmentId, readonly Overlap[]> {
  const within = segments.map(({ id, condition }) => {
    const fits = fitting(resolved(condition, segments))
    return { id, visitors: new Set(recent.flatMap((visitor, at) => (fits(visitor) ? [at] : []))) }
  })
  return new Map(
    within.map(({ id, visitors }) => [
      id,
      within
        .filter((other) => other.id !== id)
        .map((other) => ({
          id: other.id,
          both: [...visitors].filter((at) => other.visitors.has(at)).length,
          of: visitors.size,
        }))
        .filter(({ both }) => both > 0)
        .sort((a, b) => b.both - a.both),
    ]),
  )
}
