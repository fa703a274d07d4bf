import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import {
  katz,
  mixtureFor,
  mixtureInterval,
  mixturePValue,
  newcombe,
  pooledTest,
  rate,
  splitEvidence,
  standardise,
  wilson,
  type Interval,
  type Mixture,
  type Outcome,
  type Standardised,
  type Stratum,
} from '../stats'

export interface ArmCounts {
  readonly version: VersionId
  readonly weight: number
  readonly assigned: number
  readonly exposed: number
  readonly converters: number
}

/** What a result is read from: the counts of one round up to some moment. */
export interface Evidence {
  /**
   * By the epoch (a stretch of constant weights) in which visitors were drawn, oldest first. Each names the same versions
   * in the same order, the original first; whoever has a weight of 0 was not drawn then.
   */
  readonly epochs: readonly (readonly ArmCounts[])[]
  /** Whole and part days since the round began, pauses left out. */
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
  /** About how many visitors more, of both versions, until anything can be said; `null` where that is not what is waited for. */
  readonly short: number | null
  /** Visitors of the original and this variant who say something about their difference. */
  readonly total: number
  readonly lift: number | null
  /** Relative lift, safe to look at every day: what all looks of this round agree on; `null` while it cannot be computed. */
  readonly liftInterval: Interval | null
  /** Difference of the rates by the same sequence. */
  readonly differenceInterval: Interval | null
  /** Always valid, for all variants together, and the smallest of this round. */
  readonly pValue: number | null
  /** For one look at the planned end; `null` before it, where it would be wrong. */
  readonly once: { readonly lift: Interval | null; readonly difference: Interval; readonly pValue: number } | null
  /** Looks of this round contradict each other: something other than chance changed on the way. */
  readonly contradicts: boolean
  /** No longer drawn: read as it stood when it was switched off. */
  readonly isOff: boolean
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
  /** Chances of seeing such a split by the plan, valid at every look; and whether it was ever beyond belief. */
  readonly split: { readonly assigned: number; readonly exposed: number; readonly trusted: boolean }
}

export const LEVEL = 0.95
export const ENOUGH_EXPOSED = 100
export const ENOUGH_CONVERTERS = 10
const SPLIT_ALARM = 0.001

/** What earlier looks of the round have settled: the largest evidence against its split, and of each variant. */
interface SplitMemory {
  readonly assigned: number
  readonly exposed: number
}
interface VariantMemory {
  readonly difference: Interval | null
  readonly lift: Interval | null
  readonly pValue: number | null
  readonly contradicts: boolean
  readonly last: VariantResult | null
}

/** The sequence for a plan, and for a chance of being wrong. */
export type MixtureOf = (plannedTotal: number, alpha: number) => Mixture

/** Each is made once. */
export function mixtures(): MixtureOf {
  const known: (Mixture & { readonly plannedTotal: number })[] = []
  return (plannedTotal, alpha) => {
    const before = known.find((one) => one.plannedTotal === plannedTotal && one.alpha === alpha)
    if (before !== undefined) return before
    const made = { ...mixtureFor(plannedTotal, alpha), plannedTotal }
    known.push(made)
    return made
  }
}

const nothingYet: VariantMemory = { difference: null, lift: null, pValue: null, contradicts: false, last: null }

/** The reading of every variant against the original, by one look alone. */
export function read(evidence: Evidence): Result {
  const [result] = readThrough([evidence])
  if (result === undefined) throw new RangeError('read: nothing to read')
  return result
}

/**
 * The readings of a round at one look after the other. Each interval holds at every look at once, so that what holds is
 * what all of them agree on (their running intersection): a variant that is better once is better always.
 *
 * @param mixtureOf the same for several goals of one round, so that what their looks share is worked out once
 */
export function readThrough(looks: readonly Evidence[], mixtureOf: MixtureOf = mixtures()): Result[] {
  let split: SplitMemory = { assigned: 0, exposed: 0 }
  const known = new Map<VersionId, VariantMemory>()
  return looks.map((evidence) => {
    split = splitUpTo(evidence, split)
    const assigned = Math.min(1, Math.exp(-split.assigned))
    const exposed = Math.min(1, Math.exp(-split.exposed))
    const trusted = Math.min(assigned, exposed) >= SPLIT_ALARM
    const versions = versionsIn(evidence)
    const variants = versions.slice(1).map((version, index) => {
      const { result, memory } = readVariant(evidence, index + 1, {
        before: known.get(version) ?? nothingYet,
        trusted,
        mixtureOf,
      })
      known.set(version, memory)
      return result
    })
    return { rates: ratesOf(evidence, versions), variants, split: { assigned, exposed, trusted } }
  })
}

function versionsIn({ epochs }: Evidence): VersionId[] {
  const versions = (epochs.at(-1) ?? []).map(({ version }) => version)
  if (versions[0] !== ORIGINAL) throw new RangeError('read: the first arm must be the original')
  return versions
}

/** The largest evidence so far, as logarithms. Each epoch is held against its own weights; what is independent multiplies. */
function splitUpTo({ epochs }: Evidence, before: SplitMemory): SplitMemory {
  const evidence = (of: 'assigned' | 'exposed') =>
    epochs.reduce((sum, arms) => {
      const drawn = arms.filter(({ weight }) => weight > 0)
      return (
        sum +
        (drawn.length < 2
          ? 0
          : splitEvidence(
              drawn.map((arm) => arm[of]),
              drawn.map(({ weight }) => weight),
            ))
      )
    }, 0)
  return {
    assigned: Math.max(before.assigned, evidence('assigned')),
    exposed: Math.max(before.exposed, evidence('exposed')),
  }
}

/** Of all who saw each version, whenever they were drawn: for the table, not for comparing. */
function ratesOf({ epochs }: Evidence, versions: readonly VersionId[]): Result['rates'] {
  return versions.map((version, index) => {
    const counts = outcomeOf(epochs, index)
    const known = counts.n > 0
    return {
      version,
      exposed: counts.n,
      converters: counts.conversions,
      rate: known ? rate(counts) : null,
      interval: known ? wilson(counts, LEVEL) : null,
    }
  })
}

function outcomeOf(epochs: Evidence['epochs'], index: number): Outcome {
  return epochs.reduce(
    (sum, arms) => ({
      n: sum.n + (arms[index]?.exposed ?? 0),
      conversions: sum.conversions + (arms[index]?.converters ?? 0),
    }),
    { n: 0, conversions: 0 },
  )
}

interface Compared {
  readonly version: VersionId
  readonly baseline: Outcome
  readonly variant: Outcome
  readonly found: Standardised | null
}

/** The original beside one variant, over the epochs that had both. */
function compare({ epochs }: Pick<Evidence, 'epochs'>, index: number): Compared {
  const strata: Stratum[] = []
  const [baseline, variant] = [
    { n: 0, conversions: 0 },
    { n: 0, conversions: 0 },
  ]
  let version = ORIGINAL
  for (const arms of epochs) {
    const [original, arm] = [arms[0], arms[index]]
    if (original === undefined || arm === undefined) continue
    version = arm.version
    const outcomes = [asOutcome(original), asOutcome(arm)] as const
    strata.push({ shares: [original.weight, arm.weight], outcomes })
    if (original.weight === 0 || arm.weight === 0) continue
    baseline.n += original.exposed
    baseline.conversions += original.converters
    variant.n += arm.exposed
    variant.conversions += arm.converters
  }
  return { version, baseline, variant, found: standardise(strata) }
}

export const asOutcome = ({ exposed, converters }: Pick<ArmCounts, 'exposed' | 'converters'>): Outcome => ({
  n: exposed,
  conversions: converters,
})

function readVariant(
  evidence: Evidence,
  index: number,
  { before, trusted, mixtureOf }: { before: VariantMemory; trusted: boolean; mixtureOf: MixtureOf },
): { readonly result: VariantResult; readonly memory: VariantMemory } {
  const compared = compare(evidence, index)
  const { version, baseline, variant, found } = compared
  const isOff = evidence.epochs.length > 1 && evidence.epochs.at(-1)?.[index]?.weight === 0
  // Whoever had it is drawn anew and brings it nothing any more, while the original goes on earning: it is read as it stood.
  if (isOff && before.last !== null) {
    const result: VariantResult = { ...before.last, isOff, reading: trusted ? before.last.reading : 'notToBeTrusted' }
    return { result, memory: { ...before, last: result } }
  }
  const wait = tooEarly(compared, evidence.days)
  const comparisons = evidence.epochs[0] === undefined ? 1 : evidence.epochs[0].length - 1
  const isRead = found !== null && wait === null
  const known = isRead ? lookAt(found, comparisons, mixtureOf(evidence.plannedTotal, (1 - LEVEL) / comparisons), before) : before
  const settled = isRead ? settledReading(known.difference, known.lift, found, evidence.smallestEffect) : null
  const result: VariantResult = {
    version,
    reading: !trusted ? 'notToBeTrusted' : (settled ?? 'tooEarly'),
    wait: wait ?? (isRead && settled === null ? 'unclear' : null),
    short: shortBy(compared, wait),
    total: found?.total ?? 0,
    lift: found?.lift ?? null,
    liftInterval: known.lift,
    differenceInterval: known.difference,
    pValue: known.pValue,
    once: isRead && found.total >= evidence.plannedTotal ? oneLook(baseline, variant, comparisons) : null,
    contradicts: known.contradicts,
    isOff,
  }
  const { difference, lift, pValue, contradicts } = known
  return { result, memory: { difference, lift, pValue, contradicts, last: result } }
}

/** Takes one more look: what it says, narrowed to what all looks before it said. */
function lookAt(found: Standardised, comparisons: number, mixture: Mixture, before: VariantMemory): VariantMemory {
  const { total } = found
  const watched = { estimate: found.difference, standardError: found.differenceError, total }
  const logs =
    found.logError === null
      ? null
      : mixtureInterval({ estimate: Math.log(found.rates[1] / found.rates[0]), standardError: found.logError, total }, mixture)
  const difference = narrowed(before.difference, mixtureInterval(watched, mixture))
  const lift = narrowed(before.lift, logs === null ? null : [Math.expm1(logs[0]), Math.expm1(logs[1])])
  const pValue = mixturePValue(watched, mixture)
  return {
    difference: difference.interval,
    lift: lift.interval,
    pValue: pValue === null ? before.pValue : Math.min(1, before.pValue ?? 1, pValue * comparisons),
    contradicts: before.contradicts || difference.isEmpty || lift.isEmpty,
    last: before.last,
  }
}

/** Where nothing is left that both agree on, it stays as it was. */
function narrowed(before: Interval | null, now: Interval | null): { interval: Interval | null; isEmpty: boolean } {
  if (before === null || now === null) return { interval: before ?? now, isEmpty: false }
  const both: Interval = [Math.max(before[0], now[0]), Math.min(before[1], now[1])]
  return both[0] > both[1] ? { interval: before, isEmpty: true } : { interval: both, isEmpty: false }
}

function oneLook(baseline: Outcome, variant: Outcome, comparisons: number): VariantResult['once'] {
  const level = 1 - (1 - LEVEL) / comparisons
  return {
    lift: katz(baseline, variant, level),
    difference: newcombe(baseline, variant, level),
    pValue: Math.min(1, pooledTest(baseline, variant).pValue * comparisons),
  }
}

/** Whether enough saw a variant and the original, and reached the goal, for anything to be read. */
export function enoughOf(epochs: Evidence['epochs'], index: number): boolean {
  return tooEarly(compare({ epochs }, index), 1) === null
}

function tooEarly({ baseline, variant }: Pick<Compared, 'baseline' | 'variant'>, days: number): Wait | null {
  if (Math.min(baseline.n, variant.n) < ENOUGH_EXPOSED) return 'fewExposed'
  if (Math.max(baseline.conversions, variant.conversions) < ENOUGH_CONVERTERS) return 'fewConverters'
  return days < 1 ? 'lessThanADay' : null
}

function shortBy({ baseline, variant }: Compared, wait: Wait | null): number | null {
  const total = baseline.n + variant.n
  if (wait === 'fewExposed') {
    const fewest = Math.min(baseline.n, variant.n)
    return fewest === 0 ? 2 * ENOUGH_EXPOSED : Math.ceil(((ENOUGH_EXPOSED - fewest) * total) / fewest)
  }
  if (wait !== 'fewConverters') return null
  const most = Math.max(baseline.conversions, variant.conversions)
  return most === 0 ? null : Math.ceil(((ENOUGH_CONVERTERS - most) * total) / most)
}

/**
 * Both sequences must agree, so that a sentence about the lift never contradicts the picture of the difference. Where
 * nobody at all reached the goal on one side there is no lift: the difference alone says it.
 */
function settledReading(
  difference: Interval | null,
  relative: Interval | null,
  { logError }: Standardised,
  smallestEffect: number,
): Reading | null {
  if (difference === null) return null
  const ratio = relative ?? (logError === null ? difference : null)
  if (ratio === null) return null
  if (difference[0] > 0 && ratio[0] > 0) return 'better'
  if (difference[1] < 0 && ratio[1] < 0) return 'worse'
  return relative !== null && relative[0] > -smallestEffect && relative[1] < smallestEffect ? 'noDifference' : null
}

/** The variant to name first: the best of the better ones, or `null`. */
export function leader(result: Result): VariantResult | null {
  const better = result.variants.filter(({ reading, isOff }) => reading === 'better' && !isOff)
  return better.reduce<VariantResult | null>((best, one) => ((one.lift ?? 0) > (best?.lift ?? -1) ? one : best), null)
}
