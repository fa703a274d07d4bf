import {
  comparisonNamed,
  comparisonsIn,
  fitting,
  isForEverybody,
  resolved,
  type Condition,
  type Segment,
  type Visitor,
} from '../decide'
import { wilson, type Interval } from '../stats'

/** How many of those who came lately a condition would have held for. */
export type AudienceSize =
  | { readonly kind: 'everybody' }
  /** Of what it asks, no history is kept. */
  | { readonly kind: 'unknown' }
  | { readonly kind: 'share'; readonly share: number; readonly interval: Interval; readonly of: number }

const LEVEL = 0.95
/** Of fewer, a share says nothing. */
const ENOUGH = 30

/** @param recent a sample of those who came, as they were on their last visit */
export function audienceSize(named: Condition, segments: readonly Segment[], recent: readonly Visitor[]): AudienceSize {
  const condition = resolved(named, segments)
  if (isForEverybody(condition)) return { kind: 'everybody' }
  const isRemembered = comparisonsIn(condition).every(({ kind }) => comparisonNamed(kind).remembered)
  if (!isRemembered || recent.length < ENOUGH) return { kind: 'unknown' }
  const matching = recent.filter(fitting(condition)).length
  return {
    kind: 'share',
    share: matching / recent.length,
    interval: wilson({ n: recent.length, conversions: matching }, LEVEL),
    of: recent.length,
  }
}

/**
 * On which of these days they came last; `null` where nothing is known of them.
 *
 * @param days as in 2026-03-02, oldest first
 */
export function audienceByDay(
  named: Condition,
  segments: readonly Segment[],
  recent: readonly Visitor[],
  days: readonly string[],
): number[] | null {
  if (audienceSize(named, segments, recent).kind === 'unknown') return null
  const fits = fitting(resolved(named, segments))
  const came = new Map<string, number>()
  for (const visitor of recent) if (fits(visitor)) came.set(visitor.moment.day, (came.get(visitor.moment.day) ?? 0) + 1)
  return days.map((day) => came.get(day) ?? 0)
}

/** The share of visitors to plan with. */
export function shareOf(size: AudienceSize): number {
  return size.kind === 'share' ? size.share : 1
}
