import * as z from 'zod'
import { documentIdSchema } from '../ids'
import { devices, type Visitor } from './visitor'

/** One thing that is known of a visitor, compared. */
export const comparisonSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('pageSeen'), page: documentIdSchema }),
  z.object({ kind: z.literal('pageTypeSeen'), pageType: z.string().min(1).max(40) }),
  z.object({ kind: z.literal('device'), device: z.enum(devices) }),
  z.object({ kind: z.literal('campaign'), campaign: z.string().trim().min(1, 'name the campaign').max(80) }),
])
export type Comparison = Readonly<z.infer<typeof comparisonSchema>>

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
    case 'pageSeen':
      return visitor.pagesSeen.some(({ page }) => page === condition.page)
    case 'pageTypeSeen':
      return visitor.pagesSeen.some(({ pageType }) => pageType === condition.pageType)
    case 'device':
      return visitor.device === condition.device
    case 'campaign':
      return visitor.campaign?.toLowerCase() === condition.campaign.toLowerCase()
    default:
      return condition satisfies never
  }
}
