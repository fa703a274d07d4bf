import { conditionWords, matches, type Comparison, type Condition, type Surroundings, type Visitor } from '../decide'

/** A condition with whether it holds, and the same of each part of it. */
export interface Explained {
  readonly holds: boolean
  /** Of one comparison; of several joined ones, how they are joined. */
  readonly words: string
  readonly of: readonly Explained[]
}

const joinWords = { all: 'all of these', any: 'any of these', none: 'none of these' } as const

/** @param condition with what segments ask in their place */
export function explained(condition: Condition, visitor: Visitor, site: Surroundings): Explained {
  const holds = matches(condition, visitor)
  if (!('of' in condition)) return { holds, words: conditionWords(condition, site), of: [] }
  const parts = condition.of.map((part) => explained(part, visitor, site))
  // One alone needs no word that joins it.
  const [only, ...more] = parts
  if (only !== undefined && more.length === 0 && condition.kind !== 'none') return only
  if (only === undefined) return { holds, words: holds ? 'everybody' : 'nobody', of: [] }
  return { holds, words: joinWords[condition.kind], of: parts }
}

/** A comparison, and what it would have to come out as. */
export interface Otherwise {
  readonly comparison: Comparison
  readonly holds: boolean
}

/**
 * The fewest comparisons that would have to come out otherwise for a condition to hold, or not to: of several ways the
 * shortest, of those the first. It does not ask whether they can be otherwise together.
 *
 * @returns `null` where nothing could change it
 */
export function otherwise(condition: Condition, visitor: Visitor, wanted: boolean): readonly Otherwise[] | null {
  if (matches(condition, visitor) === wanted) return []
  if (!('of' in condition)) return [{ comparison: condition, holds: wanted }]
  const each = condition.of.map((part) => otherwise(part, visitor, condition.kind === 'none' ? !wanted : wanted))
  // All of them for `all` to hold and for `any` not to; one of them else.
  const needsEach = condition.kind === 'any' ? !wanted : wanted
  if (needsEach) return each.includes(null) ? null : each.flatMap((one) => one ?? [])
  const ways = each.filter((one) => one !== null).sort((one, other) => one.length - other.length)
  return ways[0] ?? null
}

/** What would have to be otherwise for the rule at this place to be the first that fits. */
export function toGetRule(conditions: readonly Condition[], place: number, visitor: Visitor): readonly Otherwise[] | null {
  const own = conditions[place]
  if (own === undefined) return null
  const needed = [...conditions.slice(0, place).map((above) => otherwise(above, visitor, false)), otherwise(own, visitor, true)]
  return needed.includes(null) ? null : needed.flatMap((one) => one ?? [])
}

/** “is in Harrowby, and not: comes with a phone”. */
export function otherwiseWords(changes: readonly Otherwise[], site: Surroundings): string {
  return changes.map(({ comparison, holds }) => `${holds ? '' : 'not: '}${conditionWords(comparison, site)}`).join(', and ')
}
