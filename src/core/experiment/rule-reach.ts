import {
  comparisonNamed,
  comparisonsIn,
  isForEverybody,
  isForNobody,
  fitting,
  resolved,
  type Condition,
  type Segment,
  type Visitor,
} from '../decide'
import { isSameData } from '../same-data'

/** Who is shown the version of a rule, as rules are read from the top and the first that fits wins. */
export type RuleReach =
  /** Whoever it fits is taken by a rule above it, or it fits nobody. */
  | { readonly kind: 'never'; readonly because: 'above' | 'nobody' }
  /** Of what it or a rule above it asks, no history is kept. */
  | { readonly kind: 'unknown' }
  /** Of a sample of those who came lately: whom it fits, and who of them is left by the rules above. */
  | { readonly kind: 'share'; readonly fitting: number; readonly shown: number; readonly of: number }

/** Of fewer, a share says nothing. */
const ENOUGH = 30

/**
 * @param conditions of the rules of one part, in their order
 * @param recent a sample of those who came, as they were on their last visit
 */
export function ruleReach(
  conditions: readonly Condition[],
  segments: readonly Segment[],
  recent: readonly Visitor[],
): readonly RuleReach[] {
  const asked = conditions.map((condition) => resolved(condition, segments))
  let left = recent
  let isRemembered = recent.length >= ENOUGH
  return asked.map((condition, at): RuleReach => {
    const above = asked.slice(0, at)
    if (isForNobody(condition)) return { kind: 'never', because: 'nobody' }
    if (above.some((one) => isForEverybody(one) || isSameData(one, condition))) return { kind: 'never', because: 'above' }
    isRemembered = isRemembered && comparisonsIn(condition).every(({ kind }) => comparisonNamed(kind).remembered)
    if (!isRemembered) return { kind: 'unknown' }
    const fits = fitting(condition)
    const shown = left.filter(fits).length
    left = left.filter((visitor) => !fits(visitor))
    return {
      kind: 'share',
      fitting: recent.filter(fits).length,
      shown,
      of: recent.length,
    }
  })
}
