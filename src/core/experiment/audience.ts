import {
  comparisonNamed,
  comparisonsIn,
  isForEverybody,
  matches,
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
  const matching = recent.filter((visitor) => matches(condition, visitor)).length
  return {
    kind: 'share',
    share: matching / recent.length,
    interval: wilson({ n: recent.length, conversions: matching }, LEVEL),
    of: recent.length,
  }
}

/** The share of visitors to plan with. */
export function shareOf(size: AudienceSize): number {
  return size.kind === 'share' ? size.share : 1
}
