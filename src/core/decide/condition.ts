import * as z from 'zod'
import { comparisonNamed, comparisonSchema, type Comparison } from './comparisons'
import { wordsOf, type Surroundings } from './comparisons/comparison'
import type { Visitor } from './visitor'

export const joins = ['all', 'any', 'none'] as const

export type Condition = Comparison | { readonly kind: (typeof joins)[number]; readonly of: readonly Condition[] }

/** A tree of all / any / none over comparisons, at most eight deep as nobody can read more. */
export const conditionSchema: z.ZodType<Condition> = nested(8)

function nested(depth: number): z.ZodType<Condition> {
  if (depth === 0) return comparisonSchema
  const inner = nested(depth - 1)
  return z.union([comparisonSchema, z.object({ kind: z.enum(joins), of: z.array(inner).max(20) })])
}

/** The rule of a version before anybody says for whom it is. */
export const EVERYBODY: Condition = { kind: 'all', of: [] }

/** Whether it holds for somebody. What is asked of many is worked out once: `fitting`. */
export const matches = (condition: Condition, visitor: Visitor): boolean => fitting(condition)(visitor)

/** Whom it fits. Nobody matches an empty `any`; everybody matches an empty `all` or `none`. */
export function fitting(condition: Condition): (visitor: Visitor) => boolean {
  if (!('of' in condition)) {
    const { holds } = comparisonNamed(condition.kind)
    return (visitor) => holds(condition, visitor)
  }
  const parts = condition.of.map(fitting)
  const [only, ...more] = parts
  if (only !== undefined && more.length === 0) return condition.kind === 'none' ? (visitor) => !only(visitor) : only
  // As soon as one part is `turn`, it is settled.
  const turn = condition.kind !== 'all'
  const found = condition.kind === 'any'
  return (visitor) => {
    for (const part of parts) if (part(visitor) === turn) return found
    return !found
  }
}

/** A whole rule, behind “for: ”. */
export function conditionWords(condition: Condition | null, site: Surroundings): string {
  if (condition === null) return 'everybody'
  if (!('of' in condition)) {
    const { label, sentence } = comparisonNamed(condition.kind)
    return `${label} ${wordsOf(sentence(condition, site))}`
  }
  const parts = condition.of.map((part) =>
    'of' in part && part.of.length > 1 ? `(${conditionWords(part, site)})` : conditionWords(part, site),
  )
  if (parts.length === 0) return condition.kind === 'any' ? 'nobody yet' : 'everybody'
  if (condition.kind === 'none') return `not: ${parts.join(', nor ')}`
  return parts.join(condition.kind === 'all' ? ' and ' : ' or ')
}

/** All comparisons in it, however deep. */
export function comparisonsIn(condition: Condition): Comparison[] {
  return 'of' in condition ? condition.of.flatMap(comparisonsIn) : [condition]
}

/** Whether it is for everybody, whoever they are. */
export function isForEverybody(condition: Condition): boolean {
  return 'of' in condition && condition.kind !== 'any' && condition.of.length === 0
}

/** Whether nobody can ever match it, whoever they are. */
export function isForNobody(condition: Condition): boolean {
  if (!('of' in condition)) return false
  if (condition.kind === 'any') return condition.of.every(isForNobody)
  return condition.kind === 'all' ? condition.of.some(isForNobody) : condition.of.some(isForEverybody)
}
