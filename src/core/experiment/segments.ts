import { group } from 'd3'
import { devices, fitting, ORIGINAL, stranger, type Segment, type Visitor } from '../decide'
import type { VersionId } from '../ids'
import { SEGMENT, traits, type Trait } from '../ledger'
import { adjusted, cochranQ, logRatioError, rate, wilson, type Estimate, type Interval } from '../stats'
import { fitsAs, traitAsked } from './noted-segments'
import { asOutcome } from './reading'

/** Visitors of a version who share a trait, or of whom it was written down whether a segment fits them (`fitsAs`). */
export interface SegmentCounts {
  readonly trait: Trait | typeof SEGMENT
  readonly value: string
  readonly version: VersionId
  readonly exposed: number
  readonly converters: number
}

export interface SegmentArm {
  readonly version: VersionId
  readonly exposed: number
  readonly converters: number
  readonly rate: number | null
  readonly interval: Interval | null
}

/** A result divided by one thing: to explore, not to decide. */
export interface Divided {
  readonly values: readonly { readonly value: string; readonly arms: readonly SegmentArm[] }[]
  /** The variants that work otherwise for one value than for another, beyond chance. */
  readonly differing: readonly VersionId[]
  /** Whether there are enough converters in two values or more to say so of any variant. */
  readonly comparable: boolean
}

export interface TraitResult extends Divided {
  readonly trait: Trait
}

/** Fewer converters of either version say nothing about a rate. */
const ENOUGH = 10
const LEVEL = 0.05
const CONFIDENCE = 0.95

type Counted = Pick<SegmentCounts, 'value' | 'version' | 'exposed' | 'converters'>

/** What each value has, in the order in which they come. */
export function valuesOf(counts: readonly Counted[], versions: readonly VersionId[]): Divided['values'] {
  return [...group(counts, ({ value }) => value)].map(([value, own]) => ({ value, arms: armsOf(own, versions) }))
}

/** Whether a variant works otherwise for one value than for another, of each variant of which that can be asked. */
function questionsOn(values: Divided['values'], versions: readonly VersionId[]) {
  return versions
    .filter((version) => version !== ORIGINAL)
    .flatMap((version) => {
      const answer = cochranQ(values.flatMap(({ arms }) => liftOf(arms, version)))
      return answer === null ? [] : [{ version, pValue: answer.pValue }]
    })
}

/**
 * Results that were divided in several ways. Whether a variant works otherwise for one value than for another is asked first
 * (Cochran’s Q on the logarithms of the lifts), and all that is asked shares its chance of being wrong (Benjamini and
 * Hochberg).
 */
export function judged<Way extends { readonly values: Divided['values'] }>(
  ways: readonly Way[],
  versions: readonly VersionId[],
): (Way & Divided)[] {
  const asked = ways.map((way) => questionsOn(way.values, versions))
  const raised = adjusted(asked.flat().map(({ pValue }) => pValue))
  let at = 0
  return ways.map((way, index) => {
    const questions = asked[index] ?? []
    return {
      ...way,
      comparable: questions.length > 0,
      differing: questions.flatMap(({ version }) => ((raised[at++] ?? 1) < LEVEL ? [version] : [])),
    }
  })
}

/** A result by what is known of visitors, one trait at a time; values with most visitors first. */
export function bySegment(counts: readonly SegmentCounts[], versions: readonly VersionId[]): TraitResult[] {
  const ways = traits.flatMap((trait) => {
    const mine = counts.filter((one) => one.trait === trait)
    if (mine.length === 0) return []
    const values = valuesOf(mine, versions).toSorted(
      (one, other) => exposedIn(other.arms) - exposedIn(one.arms) || (one.value < other.value ? -1 : 1),
    )
    return [{ trait, values }]
  })
  return judged(ways, versions)
}

/** A result for those whom a named segment fits (`in`), beside all others of whom that is known (`out`). */
export interface NamedResult extends Divided {
  readonly segment: Segment
}

/**
 * The same by segments. Of one that asks one trait the values that it fits are added up, as far back as anything was
 * counted; of any other it was written down whom it fits since it asks what it asks. To explore as well: what is asked
 * here shares its chance of being wrong.
 */
export function byNamedSegment(
  counts: readonly SegmentCounts[],
  versions: readonly VersionId[],
  segments: readonly Segment[],
): NamedResult[] {
  const ways = segments.flatMap((segment) => {
    const isOn = sideOf(segment)
    const values = ['in', 'out'].map((side) => {
      const own = counts.filter((one) => isOn(one) === side)
      return { value: side, arms: armsOf(own, versions) }
    })
    return exposedIn(values[0]?.arms ?? []) === 0 ? [] : [{ segment, values }]
  })
  return judged(ways, versions)
}

/** On which side of a segment these visitors are; `null` where their count says nothing of it. */
export function sideOf(segment: Segment): (counts: SegmentCounts) => 'in' | 'out' | null {
  const asked = traitAsked(segment.condition)
  if (asked === null) {
    const as = fitsAs(segment)
    return ({ trait, value }) => (trait !== SEGMENT ? null : value === as.in ? 'in' : value === as.out ? 'out' : null)
  }
  const fits = fitting(segment.condition)
  return ({ trait, value }) => (trait !== asked ? null : fits(visitorWith(asked, value)) ? 'in' : 'out')
}

function visitorWith(trait: Trait, value: string): Visitor {
  switch (trait) {
    case 'device':
      return { ...stranger, device: devices.find((device) => device === value) ?? stranger.device }
    case 'source':
      return { ...stranger, beginning: { ...stranger.beginning, source: value } }
    case 'region':
    case 'language':
      return { ...stranger, [trait]: value }
    case 'returning':
      return { ...stranger, visits: value === 'new' ? 1 : 2 }
    default:
      return trait satisfies never
  }
}

function armsOf(counts: readonly Counted[], versions: readonly VersionId[]): SegmentArm[] {
  return versions.map((version) => {
    let [exposed, converters] = [0, 0]
    for (const one of counts)
      if (one.version === version) {
        exposed += one.exposed
        converters += one.converters
      }
    const known = exposed > 0
    return {
      version,
      exposed,
      converters,
      rate: known ? converters / exposed : null,
      interval: known ? wilson({ n: exposed, conversions: Math.min(converters, exposed) }, CONFIDENCE) : null,
    }
  })
}

const exposedIn = (arms: readonly SegmentArm[]) => arms.reduce((sum, { exposed }) => sum + exposed, 0)

function liftOf(arms: readonly SegmentArm[], version: VersionId): Estimate[] {
  const original = arms.find((arm) => arm.version === ORIGINAL)
  const variant = arms.find((arm) => arm.version === version)
  if (original === undefined || variant === undefined) return []
  if (original.converters < ENOUGH || variant.converters < ENOUGH) return []
  const [one, other] = [asOutcome(original), asOutcome(variant)]
  const standardError = logRatioError(one, other)
  return standardError === null ? [] : [{ effect: Math.log(rate(other) / rate(one)), standardError }]
}

const languages = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'code' })

/** A value of a trait, as people say it. */
export function traitWords(trait: Trait, value: string, regionName: (code: string) => string): string {
  switch (trait) {
    case 'returning':
      return value === 'new' ? 'here for the first time' : 'had been here before'
    case 'language':
      return /^[a-z]{2,3}$/.test(value) ? (languages.of(value) ?? value) : value
    case 'region':
      return regionName(value)
    case 'device':
    case 'source':
      return value
    default:
      return trait satisfies never
  }
}
