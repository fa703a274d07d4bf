import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import {
  differenceError,
  katz,
  lift,
  logRatioError,
  newcombe,
  pooledTest,
  rate,
  sequenceInterval,
  sequencePValue,
  splitCheck,
  tuning,
  wilson,
  type Interval,
} from '../stats'

export interface ArmCounts {
  readonly version: VersionId
  readonly weight: number
  readonly assigned: number
  readonly exposed: number
  readonly converters: number
}

/** What a result is read from: the counts of one round up to some moment; the original is the first arm. */
export interface Evidence {
  readonly arms: readonly ArmCounts[]
  /** Whole and part days since the round began. */
  readonly days: number
  readonly smallestEffect: number
  readonly plannedTotal: number
}

export const readings = ['notToBeTrusted', 'tooEarly', 'better', 'worse', 'noDifference'] as const
export type Reading = (typeof readings)[number]

/** Why it is too early, first reason first. */
export type Wait = 'fewExposed' | 'fewConverters' | 'lessThanADay' | 'unclear'

export interface VariantResult {
  readonly version: VersionId
  readonly reading: Reading
  readonly wait: Wait | null
  readonly lift: number | null
  /** Relative lift by the sequence, safe to look at every day; `null` while it cannot be computed. */
  readonly liftInterval: Interval | null
  /** Difference of the rates by the sequence. */
  readonly differenceInterval: Interval | null
  /** Always valid, from the sequence of the difference. */
  readonly pValue: number | null
  /** For one look at the planned end, and only then. */
  readonly once: { readonly lift: Interval | null; readonly difference: Interval; readonly pValue: number } | null
  /** Days more at the traffic so far until the sequence is as tight as it was planned to be. */
  readonly daysMore: number | null
}

export interface Result {
  readonly rates: readonly {
    readonly version: VersionId
    readonly exposed: number
    readonly converters: number
    readonly rate: number | null
    readonly interval: Interval | null
  }[]
  readonly variants: readonly VariantResult[]
  readonly split: { readonly assigned: number; readonly exposed: number; readonly trusted: boolean }
}

export const LEVEL = 0.95
const ENOUGH_EXPOSED = 100
const ENOUGH_CONVERTERS = 10
const SPLIT_ALARM = 0.001

/** The reading of every variant against the original. */
export function read(evidence: Evidence): Result {
  const { arms } = evidence
  const weights = arms.map(({ weight }) => weight)
  const assigned = splitCheck(
    arms.map((arm) => arm.assigned),
    weights,
  ).pValue
  const exposed = splitCheck(
    arms.map((arm) => arm.exposed),
    weights,
  ).pValue
  const trusted = assigned >= SPLIT_ALARM && exposed >= SPLIT_ALARM
  const [original, ...others] = arms
  if (original === undefined || original.version !== ORIGINAL) throw new RangeError('read: the first arm must be the original')
  return {
    rates: arms.map(({ version, exposed: n, converters }) => {
      const counts = { n, conversions: converters }
      const known = n > 0
      return {
        version,
        exposed: n,
        converters,
        rate: known ? rate(counts) : null,
        interval: known ? wilson(counts, LEVEL) : null,
      }
    }),
    variants: others.map((arm) => readVariant(original, arm, evidence, trusted)),
    split: { assigned, exposed, trusted },
  }
}

function readVariant(original: ArmCounts, arm: ArmCounts, evidence: Evidence, trusted: boolean): VariantResult {
  const [baseline, variant] = [original, arm].map(({ exposed, converters }) => ({ n: exposed, conversions: converters }))
  const total = original.exposed + arm.exposed
  const unknown = { version: arm.version, lift: null, liftInterval: null, differenceInterval: null, pValue: null, once: null }
  const daysMore =
    total > 0 && evidence.days > 0 ? Math.max(0, Math.ceil(((evidence.plannedTotal - total) * evidence.days) / total)) : null
  if (baseline === undefined || variant === undefined || baseline.n === 0 || variant.n === 0) {
    return { ...unknown, reading: trusted ? 'tooEarly' : 'notToBeTrusted', wait: 'fewExposed', daysMore }
  }

  const alpha = (1 - LEVEL) / (evidence.arms.length - 1)
  const rho = tuning(evidence.plannedTotal, alpha)
  const difference = { estimate: rate(variant) - rate(baseline), standardError: differenceError(baseline, variant), total }
  const differenceInterval = sequenceInterval(difference, rho, alpha)
  const logError = logRatioError(baseline, variant)
  const logInterval =
    logError === null
      ? null
      : sequenceInterval({ estimate: Math.log(rate(variant) / rate(baseline)), standardError: logError, total }, rho, alpha)
  const liftInterval: Interval | null = logInterval === null ? null : [Math.expm1(logInterval[0]), Math.expm1(logInterval[1])]

  const wait = tooEarly(original, arm, evidence.days)
  const settled = settledReading(differenceInterval, liftInterval, evidence.smallestEffect)
  return {
    version: arm.version,
    reading: !trusted ? 'notToBeTrusted' : ((wait === null ? settled : null) ?? 'tooEarly'),
    wait: wait ?? (settled === null ? 'unclear' : null),
    lift: lift(baseline, variant),
    liftInterval,
    differenceInterval,
    pValue: sequencePValue(difference, rho),
    once: {
      lift: katz(baseline, variant, 1 - alpha),
      difference: newcombe(baseline, variant, 1 - alpha),
      pValue: Math.min(1, pooledTest(baseline, variant).pValue * (evidence.arms.length - 1)),
    },
    daysMore,
  }
}

function tooEarly(original: ArmCounts, arm: ArmCounts, days: number): Wait | null {
  if (Math.min(original.exposed, arm.exposed) < ENOUGH_EXPOSED) return 'fewExposed'
  if (Math.min(original.converters, arm.converters) < ENOUGH_CONVERTERS) return 'fewConverters'
  return days < 1 ? 'lessThanADay' : null
}

/** Both sequences must agree, so that a sentence about the lift never contradicts the picture of the difference. */
function settledReading(difference: Interval | null, relative: Interval | null, smallestEffect: number): Reading | null {
  if (difference === null || relative === null) return null
  if (difference[0] > 0 && relative[0] > 0) return 'better'
  if (difference[1] < 0 && relative[1] < 0) return 'worse'
  return relative[0] > -smallestEffect && relative[1] < smallestEffect ? 'noDifference' : null
}

/** The variant to name first: the best of the better ones, or `null`. */
export function leader(result: Result): VariantResult | null {
  const better = result.variants.filter(({ reading }) => reading === 'better')
  return better.reduce<VariantResult | null>((best, one) => ((one.lift ?? 0) > (best?.lift ?? -1) ? one : best), null)
}
