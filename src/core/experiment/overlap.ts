import { matches, resolved, type Segment, type Visitor } from '../decide'
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
  const fitting = segments.map(({ id, condition }) => {
    const asked = resolved(condition, segments)
    return { id, visitors: new Set(recent.flatMap((visitor, at) => (matches(asked, visitor) ? [at] : []))) }
  })
  return new Map(
    fitting.map(({ id, visitors }) => [
      id,
      fitting
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
