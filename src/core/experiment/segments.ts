import { devices, fitting, ORIGINAL, stranger, type Segment, type Visitor } from '../decide'
import type { VersionId } from '../ids'
import { SEGMENT, traits, type Trait } from '../ledger'
import { adjusted, cochranQ, logRatioError, rate, wilson, type Estimate, type Interval } from '../stats'
import { fitsAs, traitAsked } from './noted-segments'

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

export interface TraitResult {
  readonly trait: Trait
  /** Those with most visitors first. */
  readonly values: readonly { readonly value: string; readonly arms: readonly SegmentArm[] }[]
  /** The variants that work otherwise for one value than for another, beyond chance. */
  readonly differing: readonly VersionId[]
  /** Whether there are enough converters in two values or more to say so of any variant. */
  readonly comparable: boolean
}

/** Fewer converters of either version say nothing about a rate. */
const ENOUGH = 10
const LEVEL = 0.05

/**
 * A result by what is known of visitors, one trait at a time: to explore, not to decide. Whether a variant works otherwise
 * for one value than for another is asked first (Cochran's Q on the logarithms of the lifts), and all that is asked here
 * shares its chance of being wrong (Benjamini and Hochberg).
 */
export function bySegment(counts: readonly SegmentCounts[], versions: readonly VersionId[]): TraitResult[] {
  const found = traits.flatMap((trait) => {
    const mine = counts.filter((one) => one.trait === trait)
    const names = [...new Set(mine.map(({ value }) => value))]
    if (names.length === 0) return []
    const values = names
      .map((value) => ({ value, arms: versions.map((version) => armOf(mine, value, version)) }))
      .sort((one, other) => exposedIn(other.arms) - exposedIn(one.arms) || (one.value < other.value ? -1 : 1))
    const questions = versions
      .filter((version) => version !== ORIGINAL)
      .flatMap((version) => {
        const answer = cochranQ(values.flatMap(({ arms }) => liftOf(arms, version)))
        return answer === null ? [] : [{ version, pValue: answer.pValue }]
      })
    return [{ trait, values, questions }]
  })
  const raised = adjusted(found.flatMap(({ questions }) => questions.map(({ pValue }) => pValue)))
  let at = 0
  return found.map(({ trait, values, questions }) => ({
    trait,
    values,
    comparable: questions.length > 0,
    differing: questions.flatMap(({ version }) => ((raised[at++] ?? 1) < LEVEL ? [version] : [])),
  }))
}

/** A result for those whom a named segment fits, beside all others of whom that is known. */
export interface NamedResult {
  readonly segment: Segment
  readonly within: readonly SegmentArm[]
  readonly outside: readonly SegmentArm[]
  /** The variants that work otherwise within than outside, beyond chance. */
  readonly differing: readonly VersionId[]
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
  const found = segments.flatMap((segment) => {
    const isOn = sideOf(segment)
    const side = (of: 'in' | 'out') => {
      const own = counts.filter((one) => isOn(one) === of).map((one) => ({ ...one, value: '' }))
      return versions.map((version) => armOf(own, '', version))
    }
    const [within, outside] = [side('in'), side('out')]
    if (exposedIn(within) === 0) return []
    const questions = versions
      .filter((version) => version !== ORIGINAL)
      .flatMap((version) => {
        const answer = cochranQ([...liftOf(within, version), ...liftOf(outside, version)])
        return answer === null ? [] : [{ version, pValue: answer.pValue }]
      })
    return [{ segment, within, outside, questions }]
  })
  const raised = adjusted(found.flatMap(({ questions }) => questions.map(({ pValue }) => pValue)))
  let at = 0
  return found.map(({ questions, ...rest }) => ({
    ...rest,
    differing: questions.flatMap(({ version }) => ((raised[at++] ?? 1) < LEVEL ? [version] : [])),
  }))
}

/** On which side of a segment these visitors are; `null` where their count says nothing of it. */
function sideOf(segment: Segment): (counts: SegmentCounts) => 'in' | 'out' | null {
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

function armOf(counts: readonly SegmentCounts[], value: string, version: VersionId): SegmentArm {
  const own = counts.filter((one) => one.value === value && one.version === version)
  const sum = (of: 'exposed' | 'converters') => own.reduce((total, one) => total + one[of], 0)
  const [exposed, converters] = [sum('exposed'), sum('converters')]
  const known = exposed > 0
  return {
    version,
    exposed,
    converters,
    rate: known ? converters / exposed : null,
    interval: known ? wilson({ n: exposed, conversions: Math.min(converters, exposed) }, 1 - LEVEL) : null,
  }
}

const exposedIn = (arms: readonly SegmentArm[]) => arms.reduce((sum, { exposed }) => sum + exposed, 0)

function liftOf(arms: readonly SegmentArm[], version: VersionId): Estimate[] {
  const [original, variant] = [ORIGINAL, version].map((id) => arms.find((arm) => arm.version === id))
  if (original === undefined || variant === undefined) return []
  if (original.converters < ENOUGH || variant.converters < ENOUGH) return []
  const [one, other] = [original, variant].map(({ exposed, converters }) => ({ n: exposed, conversions: converters }))
  const standardError = one === undefined || other === undefined ? null : logRatioError(one, other)
  if (one === undefined || other === undefined || standardError === null) return []
  return [{ effect: Math.log(rate(other) / rate(one)), standardError }]
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
