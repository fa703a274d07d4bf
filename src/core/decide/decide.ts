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
  const { test, share } = draw
  const at = armFor(draw, visitor, unit)
  const arm = draw.arms[at]
  if (arm === undefined || unit === null)
    return uncounted(test, NOT_TAKING_PART[at] ?? whyNot(at, visitor, unit === null ? 0 : placeOf(draw, unit), share))
  if (keptArm(draw, visitor) === at) return { key: test, version: arm.version, counted: true, reason: KEPT }
  const lot = bucket(draw.numbers.split, unitFor(draw, visitor, unit))
  return { key: test, version: arm.version, counted: true, reason: { code: 'drawn', bucket: lot } }
}

/** Below the first arm: why somebody does not take part. */
const [LEFT_OUT, WHILE_PAUSED, OUTSIDE, NOT_SENT_HERE, OTHERS] = [-1, -2, -3, -4, -5] as const
const NOT_TAKING_PART: Readonly<Record<number, Reason>> = { [WHILE_PAUSED]: PAUSED, [OTHERS]: OTHER }

function whyNot(at: number, { leftOut }: Visitor, place: number, share: number): Reason {
  if (at === LEFT_OUT) return { code: 'leftOut', because: leftOut ?? 'noConsent' }
  return { code: 'outsideShare', bucket: place, share: at === NOT_SENT_HERE ? 0 : share }
}

/** With which of its arms somebody takes part in a test, by its place among them; below zero where they do not. */
export function armFor(draw: Draw, visitor: Visitor, unit: Unit | null): number {
  if (visitor.leftOut !== null || unit === null) return LEFT_OUT
  if (draw.paused) return WHILE_PAUSED
  // The lowest buckets take part: raising the share moves nobody who is in.
  if (!takes(draw, placeOf(draw, unit))) return OUTSIDE
  const before = keptArm(draw, visitor)
  if (before >= 0) return before
  if (draw.keptOnly) return NOT_SENT_HERE
  if (draw.audience?.(visitor) === false) return OTHERS
  return armWith(draw.arms, bucket(draw.numbers.split, unitFor(draw, visitor, unit)))
}

/** Whether who is given what by a test is a matter of what their browser keeps alone, once it keeps something of it. */
export const isByKept = ({ share, apart, paused, keeping }: Draw): boolean =>
  share === WHOLE && apart === undefined && !paused && keeping === undefined

/** The name under which a browser keeps the version of a test. */
export const keptAsOf = ({ test, keptAs = test }: Draw): TestId => keptAs

/** The arm that a browser keeps, by its place; −1 where it keeps none that is still there. */
export function keptArm(draw: Draw, { kept }: Pick<Visitor, 'kept'>): number {
  const { arms, keeping } = draw
  const before = keeping === 'view' ? undefined : kept.get(keptAsOf(draw))
  if (before === undefined) return -1
  for (let at = 0; at < arms.length; at++) if (arms[at]?.version === before) return at
  return -1
}

function placeOf({ apart, share, numbers }: Draw, unit: Unit): number {
  if (apart !== undefined) return bucket(apart.number, unit)
  return share === WHOLE ? 0 : bucket(numbers.share, unit)
}

function takes({ apart, share }: Draw, place: number): boolean {
  return apart === undefined ? place < share : apart.places.some(([from, to]) => place >= from && place < to)
}

/** For whom a version is drawn: the visitor, one of their visits, or one view. */
export function unitFor({ keeping }: Draw, { id, visit, view }: Visitor, unit: Unit): Unit {
  if (keeping === undefined) return unit
  return unitOf(keeping === 'visit' ? `${id} ${visit}` : `${id} ${visit} ${view}`)
}

/** Arms take ranges of the buckets in their order, as wide as their weights. */
export const armAt = (arms: readonly Arm[], lot: number): VersionId => arms[armWith(arms, lot)]?.version ?? ORIGINAL

function armWith(arms: readonly Arm[], lot: number): number {
  let reach = 0
  for (let at = 0; at < arms.length; at++) {
    reach += arms[at]?.weight ?? 0
    if (lot < reach) return at
  }
  throw new RangeError(`armAt: the weights add up to ${reach}, not to ${WHOLE}; bucket ${lot} has no arm`)
}

function climb(ladder: Ladder, visitor: Visitor, unit: Unit | null): Decision {
  const { id, rules, held } = ladder
  const rung = rungFor(ladder, visitor, unit)
  const rule = ruleAt(rung)
  const found = rules[rule]
  if (found === undefined || rung < 0)
    return uncounted(id, isShut(visitor) ? { code: 'leftOut', because: visitor.leftOut ?? 'noConsent' } : NO_RULE)
  if (!isHeldAt(rung)) return { key: id, version: found.version, counted: true, reason: { code: 'ruleMatched', rule } }
  const place = unit === null ? WHOLE : bucket(held, unit)
  return { key: id, version: ORIGINAL, counted: true, reason: { code: 'heldOut', rule, bucket: place } }
}

/** What a rule asks of the request alone needs nothing to be kept. */
const isShut = ({ leftOut }: Visitor): boolean => leftOut !== null && leftOut !== 'withheld'

/**
 * Where somebody stands on a ladder: two rungs for each of its rules, the second for those who are held out of it; below
 * zero where no rule fits.
 */
export function rungFor(ladder: Ladder, visitor: Visitor, unit: Unit | null): number {
  const { rules, holdout, held } = ladder
  if (isShut(visitor)) return -1
  let rule = 0
  while (rule < rules.length && rules[rule]?.fits(visitor) !== true) rule++
  if (rule === rules.length) return -1
  return 2 * rule + (unit !== null && bucket(held, unit) < holdout ? 1 : 0)
}

export const ruleAt = (rung: number): number => rung >> 1
export const isHeldAt = (rung: number): boolean => rung % 2 === 1
