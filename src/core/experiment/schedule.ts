import type { VersionId } from '../ids'
import { allocation, bestOf, type Outcome } from '../stats'
import { WHOLE } from '../decide'
import type { Design } from './design'
import type { Evidence, Result } from './reading'
import { leader } from './reading'
import type { RoundResult } from './round-result'
import type { Status } from './lifecycle'
import type { Adaptive, Schedule, StopRule } from './schedule-schema'

/** What the clock says is to be done with a test. */
export function dueByClock(
  status: Status,
  { start, end }: Schedule,
  now: Date,
  read: (clock: string) => Date | null,
): { readonly what: 'start' | 'end'; readonly since: Date } | null {
  const what = status === 'scheduled' ? 'start' : status === 'running' || status === 'paused' ? 'end' : null
  const at = what === 'start' ? start : what === 'end' ? end : null
  const since = at === null ? null : read(at)
  return what === null || since === null || since > now ? null : { what, since }
}

/** A loss below this share of the original’s rate is worth no more waiting. */
const SMALL_LOSS = 0.005
/** Days on end for which it has to be that small. */
const LOSS_DAYS = 3

/** Why a test has done what its stop rule waits for, in words; `null` where it has not. */
export function stopsBy(rule: StopRule, found: Pick<RoundResult, 'result' | 'history'>, days: number): string | null {
  const { result, history } = found
  const drawn = result.rates.filter(
    ({ version }) => !result.variants.some((variant) => variant.version === version && variant.isOff),
  )
  if (days < rule.days || drawn.some(({ exposed }) => exposed < rule.visitors)) return null
  switch (rule.until) {
    case 'enough':
      return 'it had run for as long, and been seen by as many, as its stop rule asks for'
    case 'settled':
      return result.variants.every(({ reading, isOff }) => isOff || (reading !== 'tooEarly' && reading !== 'notToBeTrusted'))
        ? 'its result is settled, as its stop rule asks for'
        : null
    case 'smallLoss':
      return history.length > LOSS_DAYS && history.slice(-LOSS_DAYS).every(({ result: then }) => isSmallLoss(then))
        ? `for ${LOSS_DAYS} days on end hardly anything was to be lost by choosing the best version, as its stop rule asks for`
        : null
    default:
      return rule.until satisfies never
  }
}

function isSmallLoss({ rates }: Result): boolean {
  const outcomes = rates.map(({ exposed: n, converters: conversions }) => ({ n, conversions }))
  const [original] = rates
  if (original?.rate == null || original.rate === 0) return false
  return Math.min(...bestOf(outcomes).losses) < SMALL_LOSS * original.rate
}

/** What a test decides when it ends by itself: `null`: nothing, as somebody has to look at it. */
export type OwnDecision = { readonly version: VersionId | null; readonly why: string } | null

/** Of a test that nobody saw nothing is known: there is nothing to decide, and nothing to remember. */
export function nobodySaw({ rates }: Result): boolean {
  return rates.every(({ exposed }) => exposed === 0)
}

/**
 * A better variant is taken over, never against a guard; where none is, the original stays. Counts that are not to be
 * trusted, or of nobody, decide nothing.
 */
export function decidesItself({ result, guards }: Pick<RoundResult, 'result' | 'guards'>): OwnDecision {
  if (nobodySaw(result) || !result.split.trusted || result.variants.some(({ contradicts }) => contradicts)) return null
  const best = leader(result)
  if (best === null) return { version: null, why: 'no variant was better when it ended' }
  const broken = guards.some(({ variants }) =>
    variants.some(({ version, reading }) => version === best.version && reading === 'broken'),
  )
  return broken ? null : { version: best.version, why: 'it was better when it ended, and no guard was broken' }
}

/**
 * How visitors are divided from now on, by Thompson’s allocation over the epochs: each version as often as it is likely to
 * be the best, and none below the floor. Counts of epochs are standardised, not added.
 *
 * @returns weights in the order of the arms, whole basis points; `null` where too little is known or hardly anything would change
 */
export function adaptedWeights(design: Pick<Design, 'arms'>, { floor }: Adaptive, evidence: Evidence): number[] | null {
  const outcomes = design.arms.map(({ version }) => standardisedOutcome(evidence, version))
  const known = outcomes.flatMap((outcome) => outcome ?? [])
  if (known.length < outcomes.length) return null
  const weights = rounded(allocation(bestOf(known).chances, floor / WHOLE))
  const changes = weights.some((weight, index) => Math.abs(weight - (design.arms[index]?.weight ?? 0)) >= WORTH_CHANGING)
  return changes ? weights : null
}

/** Basis points: below this another epoch would cost more than it brings. */
const WORTH_CHANGING = 100
const FEWEST_TO_ADAPT = 50

/** The chance of each version that is drawn to be the best, and what is lost on average by choosing it; `null` where too little is known. */
export function chancesOf(evidence: Evidence): { version: VersionId; chance: number; loss: number }[] | null {
  const drawn = (evidence.epochs.at(-1) ?? []).filter(({ weight }) => weight > 0)
  const known = drawn.flatMap(({ version }) => standardisedOutcome(evidence, version) ?? [])
  if (known.length < drawn.length || drawn.length < 2) return null
  const { chances, losses } = bestOf(known)
  return drawn.map(({ version }, index) => ({ version, chance: chances[index] ?? 0, loss: losses[index] ?? 0 }))
}

/** What a version would have had, had it been drawn alike in all epochs. */
function standardisedOutcome({ epochs }: Evidence, version: VersionId): Outcome | null {
  const own = epochs.flatMap((arms) => {
    const arm = arms.find((one) => one.version === version)
    const all = arms.reduce((sum, { exposed }) => sum + exposed, 0)
    return arm === undefined || arm.exposed === 0 || arm.weight === 0 ? [] : [{ ...arm, all }]
  })
  if (own.reduce((sum, { exposed }) => sum + exposed, 0) < FEWEST_TO_ADAPT) return null
  const whole = own.reduce((sum, { all }) => sum + all, 0)
  let [rate, variance] = [0, 0]
  for (const { exposed, converters, all } of own) {
    const p = (converters + 0.5) / (exposed + 1)
    rate += (all / whole) * (converters / exposed)
    variance += (all / whole) ** 2 * ((p * (1 - p)) / exposed)
  }
  const n = Math.max(
    1,
    rate > 0 && rate < 1 ? (rate * (1 - rate)) / variance : own.reduce((sum, { exposed }) => sum + exposed, 0),
  )
  return { n, conversions: rate * n }
}

/** To whole basis points that add up. */
function rounded(weights: readonly number[]): number[] {
  const whole = weights.map((weight) => Math.floor(weight * WHOLE))
  const largest = weights.indexOf(Math.max(...weights))
  const left = WHOLE - whole.reduce((sum, weight) => sum + weight, 0)
  return whole.map((weight, index) => weight + (index === largest ? left : 0))
}
