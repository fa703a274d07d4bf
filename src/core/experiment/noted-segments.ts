import { comparisonsIn, fitting, numberOf, type Condition, type Segment, type Visitor } from '../decide'
import { traits, type Trait } from '../ledger'

/** More would make each visitor’s note, and each day’s rows, long. */
export const MOST_NOTED = 20

/** The one trait that a condition asks; `null` where it asks another thing, or more than one. */
export function traitAsked(condition: Condition): Trait | null {
  const asked = new Set(comparisonsIn(condition).map(({ kind }) => traits.find((trait) => trait === kind) ?? null))
  const [only = null, ...more] = asked
  return more.length > 0 ? null : only
}

/**
 * Segments whose fit has to be written down when a visitor is given a version, as numbers are divided by one trait at a
 * time: those that ask anything else, or two things at once. The first twenty by name.
 */
export function notedSegments(segments: readonly Segment[]): Segment[] {
  return segments
    .filter(({ condition }) => traitAsked(condition) === null && comparisonsIn(condition).length > 0)
    .sort((one, other) => (one.name < other.name ? -1 : 1))
    .slice(0, MOST_NOTED)
}

/**
 * Under what it is written down that a segment fits, and that it does not: by what it asks, so that what was counted
 * before a segment was changed says nothing of what it asks now.
 */
export function fitsAs({ condition }: Pick<Segment, 'condition'>): { readonly in: string; readonly out: string } {
  const text = JSON.stringify(condition)
  const name = [numberOf(text), numberOf(`${text} again`)].map((number) => number.toString(16).padStart(8, '0')).join('')
  return { in: `${name}+`, out: `${name}-` }
}

/** What is written down of a visitor: one name for each of these segments. */
export function noteOfSegments(segments: readonly Segment[]): (visitor: Visitor) => readonly string[] {
  const asked = notedSegments(segments).map((segment) => ({ fits: fitting(segment.condition), as: fitsAs(segment) }))
  return (visitor) => asked.map(({ fits, as }) => (fits(visitor) ? as.in : as.out))
}
