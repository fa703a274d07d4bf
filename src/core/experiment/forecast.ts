import { WHOLE } from '../decide'
import { detectableAt, errorsForPower, mixturePower, sampleSize, mixtureFor } from '../stats'
import { averageOver, type Prior } from './base-rates'
import type { Design } from './design'
import {
  bestPlan,
  MOST_DAYS_OF_WAITING,
  plannedEffect,
  POWER,
  visitorsToSee,
  waitingFor,
  type Comparison,
  type Waiting,
} from './waiting'

export interface Traffic {
  /** Visitors new to the page per day, by the last 28 days. */
  readonly visitorsPerDay: number
  /** The same on each of the last 14 full days, oldest first; empty where days are not known by themselves. */
  readonly recent: readonly number[]
  /** Share of these that reached the primary goal; `null` where nothing is known. */
  readonly baseRate: number | null
}

export interface Forecast {
  /** Visitors who take part, per day. */
  readonly perDay: number
  readonly baseRate: number
  /** Whether the base rate was measured, or assumed for want of numbers. */
  readonly measured: boolean
  /** Visitors of the original and one variant together, to which the sequence is tuned. */
  readonly plannedTotal: number
  /** For the difference worth having, with the sequence. */
  readonly waiting: Waiting
  /** Days for one look at the end: the price of being allowed to look; `null` for no traffic. */
  readonly daysForOneLook: number | null
  /** The smallest relative gain that is seen with 80% chance after so many weeks; `null` where even the double is not. */
  readonly seen: readonly { readonly weeks: number; readonly gain: number | null }[]
  /** Where there are too few visitors: what would help, each with its days. */
  readonly helps: readonly Help[]
}

/** One thing that would make an answer possible. */
export interface Help {
  readonly kind: 'largerDifference' | 'fewerVariants' | 'nearerGoal' | 'moreVisitors'
  /** The difference, the versions, the rate, or the visitors a day that it would take. */
  readonly value: number
  readonly days: number
}

/** The traffic of a share of all visitors. */
export function trafficAmong({ visitorsPerDay, recent, baseRate }: Traffic, share: number): Traffic {
  return { visitorsPerDay: visitorsPerDay * share, recent: recent.map((day) => day * share), baseRate }
}

type Planned = Pick<Design, 'arms' | 'share' | 'smallestEffect'>

const ALPHA = 0.05
/** Where nothing is known yet, a rate in the middle of what sites commonly see. */
const ASSUMED_RATE = 0.05
/** No test is planned for longer: what the difference worth having needs beyond that only costs time in seeing others. */
const WEEKS_PLANNED = 8
const FEWEST_PLANNED = 1000
/** A gain beyond this is none to plan with. */
const LARGEST_GAIN = 1

/**
 * How long a test takes and what it can find, by the sequence that decides, which may be looked at daily: it needs more
 * visitors than one look at the end.
 */
export function forecast(design: Planned, traffic: Traffic): Forecast {
  const frame = frameOf(design, traffic)
  const { comparison, perDay, baseRate, measured, pairShare, original, plannedTotal } = frame
  const variants = Math.max(2, design.arms.length)
  const plan = { baselineRate: baseRate, alpha: ALPHA, power: POWER, variants }
  const oneLook = sampleSize(plan, comparison.effect, comparison.ratio)
  const pairPerDay = perDay * pairShare
  const mixture = mixtureFor(plannedTotal, comparison.alpha)
  const seen = [1, 2, 4, 8].map((weeks) => {
    const baseline = perDay * original * 7 * weeks
    if (baseline < 1) return { weeks, gain: null }
    const total = baseline * (1 + comparison.ratio)
    const needed = errorsForPower(POWER, total, 7 * weeks, mixture)
    const gain = detectableAt(needed, baseRate, baseline, baseline * comparison.ratio).relativeIncrease
    return { weeks, gain: gain === null || gain > LARGEST_GAIN ? null : gain }
  })
  const waiting = waitOf(frame)
  return {
    ...{ perDay, baseRate, measured, plannedTotal, waiting, seen },
    daysForOneLook: pairPerDay > 0 ? Math.ceil((oneLook.nBaselineExact * (1 + comparison.ratio)) / pairPerDay) : null,
    helps: waiting.kind === 'tooFew' ? helpsFor(design, traffic) : [],
  }
}

/**
 * The chance that one variant is seen to be better within so many weeks, looked at daily, by what past tests of its kind say
 * of its true gain; `null` without traffic.
 */
export function chanceToSee(design: Planned, traffic: Traffic, prior: Prior, weeks: number): number | null {
  const { comparison, perDay, original, baseRate, plannedTotal } = frameOf(design, traffic)
  const baseline = perDay * original * 7 * weeks
  if (baseline < 1) return null
  const total = baseline * (1 + comparison.ratio)
  const mixture = mixtureFor(plannedTotal, comparison.alpha)
  const variance = (rate: number, n: number) => (rate * (1 - rate)) / n
  return averageOver(prior, (log) => {
    const rate = Math.min(0.999, baseRate * Math.exp(log))
    if (rate <= baseRate) return 0
    const error = Math.sqrt(variance(baseRate, baseline) + variance(rate, baseline * comparison.ratio))
    return mixturePower((rate - baseRate) / error, total, 7 * weeks, mixture)
  })
}

interface Frame {
  readonly comparison: Comparison
  readonly perDay: number
  readonly baseRate: number
  readonly measured: boolean
  /** Of those who take part: the original’s share, and that of the original and the smallest variant. */
  readonly original: number
  readonly pairShare: number
  readonly recent: readonly number[]
  readonly plannedTotal: number
}

function frameOf({ arms, share, smallestEffect }: Planned, traffic: Traffic): Frame {
  const variants = Math.max(2, arms.length)
  const measured = traffic.baseRate !== null && traffic.baseRate > 0 && traffic.baseRate < 1
  const baseRate = measured && traffic.baseRate !== null ? traffic.baseRate : ASSUMED_RATE
  const weights = arms.map(({ weight }) => weight)
  const own = weights[0] || WHOLE / variants
  const smallest = Math.min(...weights.slice(1).filter((weight) => weight > 0), WHOLE)
  const ratio = weights.length > 1 ? smallest / own : 1
  const comparison = { baseRate, effect: plannedEffect(baseRate, smallestEffect), alpha: ALPHA / (variants - 1), ratio }
  const perDay = (traffic.visitorsPerDay * share) / WHOLE
  const pairShare = (own * (1 + ratio)) / WHOLE
  const longest = Math.max(FEWEST_PLANNED, perDay * pairShare * 7 * WEEKS_PLANNED)
  return {
    ...{ comparison, perDay, baseRate, measured, original: own / WHOLE, pairShare },
    recent: (traffic.recent.length === 0 ? [traffic.visitorsPerDay] : traffic.recent).map(
      (day) => ((day * share) / WHOLE) * pairShare,
    ),
    plannedTotal: Math.ceil(Math.min(bestPlan(comparison), longest)),
  }
}

function waitOf({ comparison, plannedTotal, recent }: Frame): Waiting {
  return waitingFor(visitorsToSee(comparison, plannedTotal), 0, recent)
}

/** Each thing changed by itself until eight weeks are enough, or as far as it goes. */
function helpsFor(design: Planned, traffic: Traffic): Help[] {
  const aim = 7 * WEEKS_PLANNED
  const daysWith = (changed: Partial<Planned>, other: Partial<Traffic> = {}) => {
    const waiting = waitOf(frameOf({ ...design, ...changed }, { ...traffic, ...other }))
    return waiting.kind === 'days' ? waiting.days : Infinity
  }
  const firstThatDoes = (kind: Help['kind'], values: readonly number[], days: (value: number) => number): Help[] => {
    const tried = values.map((value) => ({ kind, value, days: days(value) }))
    const found = tried.find((one) => one.days <= aim) ?? tried.at(-1)
    return found === undefined || found.days > MOST_DAYS_OF_WAITING ? [] : [found]
  }
  const { baseRate, perDay } = frameOf(design, traffic)
  const two = [WHOLE / 2, WHOLE / 2].map((weight, at) => ({ version: design.arms[at]?.version, weight, levels: [] }))
  return [
    ...firstThatDoes(
      'largerDifference',
      [0.1, 0.2, 0.3, 0.5, 0.75, 1].filter((effect) => effect > design.smallestEffect),
      (smallestEffect) => daysWith({ smallestEffect }),
    ),
    ...(design.arms.length > 2 ? firstThatDoes('fewerVariants', [2], () => daysWith({ arms: two as Design['arms'] })) : []),
    ...firstThatDoes(
      'nearerGoal',
      [0.1, 0.2, 0.35, 0.5].filter((rate) => rate > 1.5 * baseRate),
      (rate) => daysWith({}, { baseRate: rate }),
    ),
    ...firstThatDoes(
      'moreVisitors',
      [2, 5, 10, 20, 50].map((times) => Math.ceil(perDay * times)),
      (visitors) => daysWith({}, { visitorsPerDay: visitors, recent: [visitors] }),
    ),
  ]
}
