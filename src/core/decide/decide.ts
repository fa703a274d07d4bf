import type { RoundId, TestId, VersionId } from '../ids'
import { bucket, numberOf, unitOf, WHOLE, type Unit } from './bucket'
import type { LeftOut } from './left-out'
import type { Visitor } from './visitor'

/** The version that changes nothing. */
export const ORIGINAL = 'original' as VersionId

export interface Arm {
  readonly version: VersionId
  /** Basis points of those who take part; the arms of a test add up to 10 000. */
  readonly weight: number
}

/** For how long a visitor keeps what they were given: on this browser until the test ends, for this visit, or for one view. */
export const keepings = ['browser', 'visit', 'view'] as const
export type Keeping = (typeof keepings)[number]

/** Behind “a visitor keeps the same version”. */
export const keepingWords: { readonly [Of in Keeping]: string } = {
  browser: 'on this browser, until the test ends',
  visit: 'for one visit',
  view: 'not at all',
}

/** The numbers of a test: a second, independent one for the split, so that neither the share nor its changes colour the arms. */
export interface Numbers {
  readonly share: number
  readonly split: number
}

/** @param again how often visitors have been drawn anew */
export function numbersOf(salt: string, again = 0): Numbers {
  return { share: numberOf(`${salt}:share`), split: numberOf(again === 0 ? `${salt}:split` : `${salt}:split:${again}`) }
}

/** In a group all tests look at the same number. */
export const numberOfGroup = (group: string): number => numberOf(`group ${group}`)

/** Of a personalized part: whom it shows the default although they match. */
export const numberOfHoldout = (id: string, again = 0): number =>
  numberOf(again === 0 ? `${id}:holdout` : `${id}:holdout:${again}`)

/** A test as far as deciding goes. */
export interface Draw {
  readonly test: TestId
  readonly round: RoundId
  readonly numbers: Numbers
  /** Under which name a browser keeps its version; that of the test where nothing is said. */
  readonly keptAs?: TestId
  /** For how long a version is kept: this visit, or not at all, where nothing is said for this browser. */
  readonly keeping?: Exclude<Keeping, 'browser'>
  /** Who is drawn; everybody where nothing is said. Whoever is in stays in, whatever they come with later. */
  readonly audience?: (visitor: Visitor) => boolean
  /** Basis points of those. */
  readonly share: number
  /** Instead of a share: the visitors that it takes of a group whose tests are kept apart, from and to. */
  readonly apart?: { readonly number: number; readonly places: readonly (readonly [number, number])[] }
  readonly arms: readonly Arm[]
  /** While a test is paused nobody new is drawn and everybody sees the original. */
  readonly paused: boolean
  /** On the page that a route leads to: only who was sent here by the test takes part; nobody new is drawn. */
  readonly keptOnly?: boolean
}

/** A personalized part as far as deciding goes: ordered rules, the original last. */
export interface Ladder {
  readonly id: string
  readonly rules: readonly { readonly version: VersionId; readonly fits: (visitor: Visitor) => boolean }[]
  /** Basis points of those who match that get the default all the same, so that the gain can be measured. */
  readonly holdout: number
  readonly held: number
}

/** Why something is shown, by code; the words are made where they are read. */
export type Reason =
  | { readonly code: 'leftOut'; readonly because: LeftOut }
  | { readonly code: 'paused' }
  | { readonly code: 'otherAudience' }
  | { readonly code: 'outsideShare'; readonly bucket: number; readonly share: number }
  | { readonly code: 'kept' }
  | { readonly code: 'drawn'; readonly bucket: number }
  | { readonly code: 'ruleMatched'; readonly rule: number }
  | { readonly code: 'heldOut'; readonly rule: number; readonly bucket: number }
  | { readonly code: 'noRuleMatched' }

export interface Decision {
  /** The test's or the ladder's id. */
  readonly key: string
  readonly version: VersionId
  /** Whether being shown this counts: an original seen outside the share is not the original of the test. */
  readonly counted: boolean
  readonly reason: Reason
}

const PAUSED: Reason = { code: 'paused' }
const KEPT: Reason = { code: 'kept' }
const OTHER: Reason = { code: 'otherAudience' }
const NO_RULE: Reason = { code: 'noRuleMatched' }

const uncounted = (key: string, reason: Reason): Decision => ({ key, version: ORIGINAL, counted: false, reason })

/**
 * What one visitor is shown, by chance and by rule, the rules first: the only place where that is decided.
 *
 * @param unit the visitor’s, where it is at hand
 */
export function decide(
  configuration: { readonly draws: readonly Draw[]; readonly ladders: readonly Ladder[] },
  visitor: Visitor,
  unit: Unit | null = visitor.id === null ? null : unitOf(visitor.id),
): Decision[] {
  const decisions: Decision[] = []
  for (const ladder of configuration.ladders) decisions.push(climb(ladder, visitor, unit))
  for (const draw of configuration.draws) decisions.push(drawFor(draw, visitor, unit))
  return decisions
}

function drawFor(draw: Draw, visitor: Visitor, unit: Unit | null): Decision {
  const { test } = draw
  if (visitor.leftOut !== null) return uncounted(test, { code: 'leftOut', because: visitor.leftOut })
  if (unit === null) return uncounted(test, { code: 'leftOut', because: 'noConsent' })
  if (draw.paused) return uncounted(test, PAUSED)

  // The lowest buckets take part: raising the share moves nobody who is in.
  const place = placeOf(draw, unit)
  if (!takes(draw, place)) return uncounted(test, { code: 'outsideShare', bucket: place, share: draw.share })

  const before = draw.keeping === 'view' ? undefined : visitor.kept.get(draw.keptAs ?? test)
  if (before !== undefined && has(draw.arms, before)) return { key: test, version: before, counted: true, reason: KEPT }
  if (draw.keptOnly) return uncounted(test, { code: 'outsideShare', bucket: place, share: 0 })
  if (draw.audience?.(visitor) === false) return uncounted(test, OTHER)
  const lot = bucket(draw.numbers.split, unitFor(draw, visitor, unit))
  return { key: test, version: armAt(draw.arms, lot), counted: true, reason: { code: 'drawn', bucket: lot } }
}

function placeOf({ apart, share, numbers }: Draw, unit: Unit): number {
  if (apart !== undefined) return bucket(apart.number, unit)
  return share === WHOLE ? 0 : bucket(numbers.share, unit)
}

function takes({ apart, share }: Draw, place: number): boolean {
  return apart === undefined ? place < share : apart.places.some(([from, to]) => place >= from && place < to)
}

function has(arms: readonly Arm[], version: VersionId): boolean {
  for (const arm of arms) if (arm.version === version) return true
  return false
}

function unitFor({ keeping }: Draw, { id, visit, view }: Visitor, unit: Unit): Unit {
  if (keeping === undefined) return unit
  return unitOf(keeping === 'visit' ? `${id} ${visit}` : `${id} ${visit} ${view}`)
}

/** Arms take ranges of the buckets in their order, as wide as their weights. */
export function armAt(arms: readonly Arm[], lot: number): VersionId {
  let reach = 0
  for (const { version, weight } of arms) {
    reach += weight
    if (lot < reach) return version
  }
  throw new RangeError(`armAt: the weights add up to ${reach}, not to ${WHOLE}; bucket ${lot} has no arm`)
}

function climb({ id, rules, holdout, held }: Ladder, visitor: Visitor, unit: Unit | null): Decision {
  // What a rule asks of the request alone needs nothing to be kept.
  if (visitor.leftOut !== null && visitor.leftOut !== 'withheld')
    return uncounted(id, { code: 'leftOut', because: visitor.leftOut })
  let rule = 0
  while (rule < rules.length && rules[rule]?.fits(visitor) !== true) rule++
  const found = rules[rule]
  if (found === undefined) return uncounted(id, NO_RULE)
  const place = unit === null ? WHOLE : bucket(held, unit)
  if (place < holdout) return { key: id, version: ORIGINAL, counted: true, reason: { code: 'heldOut', rule, bucket: place } }
  return { key: id, version: found.version, counted: true, reason: { code: 'ruleMatched', rule } }
}
