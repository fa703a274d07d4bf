import * as z from 'zod'
import { comparisonNamed, comparisonSchema, type Comparison } from './comparisons'
import type { SitePages } from './comparisons/comparison'
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

/** Nobody matches an empty `any`; everybody matches an empty `all` or `none`. */
export function matches(condition: Condition, visitor: Visitor): boolean {
  switch (condition.kind) {
    case 'all':
      return condition.of.every((part) => matches(part, visitor))
    case 'any':
      return condition.of.some((part) => matches(part, visitor))
    case 'none':
      return !condition.of.some((part) => matches(part, visitor))
    default:
      return comparisonNamed(condition.kind).holds(condition, visitor)
  }
}

/** A whole rule, behind “for: ”. */
export function conditionWords(condition: Condition | null, site: SitePages): string {
  if (condition === null) return 'everybody'
  if (!('of' in condition)) return comparisonNamed(condition.kind).words(condition, site)
  const parts = condition.of.map((part) => conditionWords(part, site))
  if (parts.length === 0) return condition.kind === 'any' ? 'nobody yet' : 'everybody'
  if (condition.kind === 'none') return `not: ${parts.join(', nor ')}`
  return parts.join(condition.kind === 'all' ? ' and ' : ' or ')
}
