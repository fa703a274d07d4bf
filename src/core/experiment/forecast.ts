import { WHOLE } from '../decide'
import { detectable, reach, sampleSize, tuning, normalQuantile } from '../stats'
import type { Design } from './design'

export interface Traffic {
  /** Visitors new to the page per day, by the last 28 days. */
  readonly visitorsPerDay: number
  /** Share of these that reached the primary goal; `null` where nothing is known. */
  readonly baseRate: number | null
}

export interface Forecast {
  /** Visitors who take part, per day. */
  readonly perDay: number
  readonly baseRate: number
  /** Whether the base rate was measured, or assumed for want of numbers. */
  readonly measured: boolean
  /** Visitors of the original and one variant together. */
  readonly plannedTotal: number
  /** Days for the difference worth having with the sequence; `null` for no traffic. */
  readonly days: number | null
  /** The same for one look at the end: the price of being allowed to look. */
  readonly daysForOneLook: number | null
  /** The smallest relative gain that is seen with 80% chance after so many weeks; `null` if none is. */
  readonly seen: readonly { readonly weeks: number; readonly gain: number | null }[]
}

const ALPHA = 0.05
const POWER = 0.8
/** Where nothing is known yet, a rate in the middle of what sites commonly see. */
const ASSUMED_RATE = 0.05

/**
 * How long a test takes and what it can find. The sequence needs more visitors than one look by the square of the ratio
 * of their reaches (at the planned total, plus the quantile for the power): about twice as many.
 */
export function forecast(design: Pick<Design, 'arms' | 'share' | 'smallestEffect'>, traffic: Traffic): Forecast {
  const variants = Math.max(2, design.arms.length)
  const measured = traffic.baseRate !== null && traffic.baseRate > 0 && traffic.baseRate < 1
  const baseRate = measured && traffic.baseRate !== null ? traffic.baseRate : ASSUMED_RATE
  const plan = { baselineRate: baseRate, alpha: ALPHA, power: POWER, variants }
  const weights = design.arms.map(({ weight }) => weight)
  const original = weights[0] || WHOLE / variants
  const smallest = Math.min(...weights.slice(1).filter((weight) => weight > 0), WHOLE)
  const ratio = weights.length > 1 ? smallest / original : 1

  // A gain that would leave no rate below 1 is planned for as a loss of the same size.
  const effect = baseRate * (1 + design.smallestEffect) <= 1 ? design.smallestEffect : -Math.min(design.smallestEffect, 1)
  const oneLook = sampleSize(plan, effect, ratio)
  const alpha = ALPHA / (variants - 1)
  const [za, zb] = [-normalQuantile(alpha / 2), normalQuantile(POWER)]
  const dearer = ((reach(1, tuning(1, alpha), alpha) + zb) / (za + zb)) ** 2
  const pair = oneLook.nBaselineExact * (1 + ratio)

  const perDay = (traffic.visitorsPerDay * design.share) / WHOLE
  const pairPerDay = (perDay * (original + original * ratio)) / WHOLE
  const days = (total: number) => (pairPerDay > 0 ? Math.ceil(total / pairPerDay) : null)
  const seen = [1, 2, 4, 8].map((weeks) => {
    const baseline = ((perDay * original) / WHOLE) * 7 * weeks
    if (baseline < 1) return { weeks, gain: null }
    return { weeks, gain: detectable(plan, baseline / dearer, (baseline * ratio) / dearer).relativeIncrease }
  })
  return {
    perDay,
    baseRate,
    measured,
    plannedTotal: Math.ceil(pair * dearer),
    days: days(pair * dearer),
    daysForOneLook: days(pair),
    seen,
  }
}
