import type { RoundId, TestId, VersionId } from '../ids'
import { bucket, WHOLE } from './bucket'
import { matches, type Condition } from './condition'
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

/** A test as far as deciding goes. */
export interface Draw {
  readonly test: TestId
  readonly round: RoundId
  readonly salt: string
  /** Under which name a browser keeps its version; that of the test where nothing is said. */
  readonly keptAs?: TestId
  /** How often visitors have been drawn anew; never where nothing is said. */
  readonly again?: number
  /** For how long a version is kept: this visit, or not at all, where nothing is said for this browser. */
  readonly keeping?: Exclude<Keeping, 'browser'>
  /** Who is drawn; everybody where nothing is said. Whoever is in stays in, whatever they come with later. */
  readonly audience?: Condition
  /** Basis points of those. */
  readonly share: number
  /** Instead of a share: the visitors that it takes of a group whose tests are kept apart, from and to. */
  readonly apart?: { readonly group: string; readonly lots: readonly (readonly [number, number])[] }
  readonly arms: readonly Arm[]
  /** While a test is paused nobody new is drawn and everybody sees the original. */
  readonly paused: boolean
  /** On the page that a route leads to: only who was sent here by the test takes part; nobody new is drawn. */
  readonly keptOnly?: boolean
}

/** A personalized part as far as deciding goes: ordered rules, the original last. */
export interface Ladder {
  readonly id: string
  readonly rules: readonly { readonly version: VersionId; readonly condition: Condition }[]
  /** Basis points of those who match that get the default all the same, so that the gain can be measured. */
  readonly holdout: number
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

/** What one visitor is shown, by chance and by rule: the only place where that is decided. */
export function decide(
  configuration: { readonly draws: readonly Draw[]; readonly ladders: readonly Ladder[] },
  visitor: Visitor,
): Decision[] {
  const decisions: Decision[] = []
  for (const ladder of configuration.ladders) decisions.push(climb(ladder, visitor))
  for (const draw of configuration.draws) decisions.push(drawFor(draw, visitor))
  return decisions
}

function drawFor(draw: Draw, visitor: Visitor): Decision {
  const original = (reason: Reason): Decision => ({ key: draw.test, version: ORIGINAL, counted: false, reason })
  if (visitor.leftOut !== null) return original({ code: 'leftOut', because: visitor.leftOut })
  if (visitor.id === null) return original({ code: 'leftOut', because: 'noConsent' })
  if (draw.paused) return original({ code: 'paused' })

  // The lowest buckets take part: raising the share moves nobody who is in.
  const place = placeOf(draw, visitor.id)
  if (!takes(draw, place)) return original({ code: 'outsideShare', bucket: place, share: draw.share })

  const before = draw.keeping === 'view' ? undefined : visitor.kept.get(draw.keptAs ?? draw.test)
  if (before !== undefined && draw.arms.some(({ version }) => version === before)) {
    return { key: draw.test, version: before, counted: true, reason: { code: 'kept' } }
  }
  if (draw.keptOnly) return original({ code: 'outsideShare', bucket: place, share: 0 })
  if (draw.audience !== undefined && !matches(draw.audience, visitor)) return original({ code: 'otherAudience' })
  // A second, independent number for the split, so that neither the share nor its changes colour the arms.
  const lot = bucket(
    draw.again === undefined ? `${draw.salt}:split` : `${draw.salt}:split:${draw.again}`,
    unitOf(draw, visitor.id, visitor),
  )
  return { key: draw.test, version: armAt(draw.arms, lot), counted: true, reason: { code: 'drawn', bucket: lot } }
}

/** In a group all tests look at the same number. */
function placeOf({ apart, share, salt }: Draw, id: string): number {
  if (apart !== undefined) return bucket(`group ${apart.group}`, id)
  return share === WHOLE ? 0 : bucket(`${salt}:share`, id)
}

function takes({ apart, share }: Draw, place: number): boolean {
  return apart === undefined ? place < share : apart.lots.some(([from, to]) => place >= from && place < to)
}

/** Whom one lot is for: a visitor, one of their visits, or one view. */
function unitOf({ keeping }: Draw, id: string, { visit, view }: Visitor): string {
  if (keeping === undefined) return id
  return keeping === 'visit' ? `${id} ${visit}` : `${id} ${visit} ${view}`
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

function climb(ladder: Ladder, visitor: Visitor): Decision {
  const answer = (version: VersionId, counted: boolean, reason: Reason): Decision => ({
    key: ladder.id,
    version,
    counted,
    reason,
  })
  // What a rule asks of the request alone needs nothing to be kept.
  if (visitor.leftOut !== null && visitor.leftOut !== 'withheld')
    return answer(ORIGINAL, false, { code: 'leftOut', because: visitor.leftOut })
  const rule = ladder.rules.findIndex(({ condition }) => matches(condition, visitor))
  const found = ladder.rules[rule]
  if (found === undefined) return answer(ORIGINAL, false, { code: 'noRuleMatched' })
  if (visitor.id !== null) {
    const place = bucket(`${ladder.id}:holdout`, visitor.id)
    if (place < ladder.holdout) return answer(ORIGINAL, true, { code: 'heldOut', rule, bucket: place })
  }
  return answer(found.version, true, { code: 'ruleMatched', rule })
}
