import { plural, roughCount } from '../numbers'
import { mixtureFor, mixturePower, rootOf } from '../stats'

/** The chance with which a difference that is there is to be seen. */
export const POWER = 0.8
/** Whoever would wait longer is told that it cannot be decided here. */
export const MOST_DAYS_OF_WAITING = 180

/** Full days by which the traffic to come is judged: two of each weekday. */
export const RECENT_DAYS = 14

/** The difference to plan with: a gain that would leave no rate below 1 is planned for as a loss of the same size. */
export function plannedEffect(baseRate: number, smallestEffect: number): number {
  return baseRate * (1 + smallestEffect) < 1 ? smallestEffect : -Math.min(smallestEffect, 0.99)
}

/** Four weeks of days: with a week or eight of them the chance is another by 2 points at most. */
const LOOKS = 28

/** Two versions that are compared, as far as planning goes. */
export interface Comparison {
  /** Of the original, in (0, 1). */
  readonly baseRate: number
  /** Relative; it must leave a rate in (0, 1). */
  readonly effect: number
  /** The chance of a false call, this comparison’s part of it. */
  readonly alpha: number
  /** Visitors of the variant for each of the original. */
  readonly ratio: number
}

/** (p1 q1 + p2 q2 / ratio)(1 + ratio): the squared standard error of the difference at one visitor of both. */
function spread({ baseRate: p1, effect, ratio }: Comparison): number {
  const p2 = p1 * (1 + effect)
  return (p1 * (1 - p1) + (p2 * (1 - p2)) / ratio) * (1 + ratio)
}

/**
 * Visitors of both versions at which the difference is seen with 80% chance by the sequence that may be looked at daily.
 *
 * @param plannedTotal to which the sequence is tuned
 */
export function visitorsToSee(comparison: Comparison, plannedTotal: number): number {
  const { baseRate, effect, alpha } = comparison
  const mixture = mixtureFor(plannedTotal, alpha)
  const perVisitor = (baseRate * effect) ** 2 / spread(comparison)
  const missing = (log: number) => {
    const total = Math.exp(log)
    return mixturePower(Math.sqrt(perVisitor * total), total, LOOKS, mixture) - POWER
  }
  if (missing(Math.log(MOST)) < 0) return MOST
  return Math.ceil(Math.exp(rootOf(missing, [Math.log(FIRST_GUESS / perVisitor), 0.5], NEAR)))
}

/** About how many standard errors a difference has, squared, where a sequence sees it. */
const FIRST_GUESS = 14
/** More visitors than anybody counts. */
const MOST = 1e13
/** Of the chance: the total is then right to less than a millionth. */
const NEAR = 1e-7

/** The total to which its own sequence is best tuned: where the difference is seen just then. */
export function bestPlan(comparison: Comparison): number {
  let total = 10_000
  for (let step = 0; step < 12; step++) {
    const next = visitorsToSee(comparison, total)
    if (Math.abs(next - total) < 1e-3 * total) break
    total = next
  }
  return total
}

export type Waiting =
  | { readonly kind: 'days'; readonly days: number }
  /** It would take longer than anybody should wait. */
  | { readonly kind: 'tooFew'; readonly visitors: number }
  /** Nothing is known to plan with. */
  | { readonly kind: 'unknown' }

/**
 * How long until the difference worth having would be seen with 80% chance: said in the list, on the sheet and in the
 * sentence alike.
 *
 * @param needed visitors of both versions
 * @param already of these
 * @param recent visitors of both versions on the last full days, oldest first and none left out; weekdays are kept
 */
export function waitingFor(needed: number, already: number, recent: readonly number[]): Waiting {
  const perDay = recent.reduce((sum, day) => sum + day, 0) / Math.max(1, recent.length)
  if (!(perDay > 0)) return { kind: 'unknown' }
  let total = already
  for (let days = 0; days <= MOST_DAYS_OF_WAITING; days++) {
    if (total >= needed) return { kind: 'days', days: Math.max(1, days) }
    total += onDay(recent, days, perDay)
  }
  return { kind: 'tooFew', visitors: Math.ceil(needed - already) }
}

/** The mean of the days on the same weekday, once a whole week is known. */
function onDay(recent: readonly number[], ahead: number, mean: number): number {
  if (recent.length < 7) return mean
  const alike = recent.filter((_, at) => (recent.length + ahead - at) % 7 === 0)
  return alike.reduce((sum, day) => sum + day, 0) / Math.max(1, alike.length)
}

/** “about 12 more days”; empty where nothing is known. */
export function waitingWords(waiting: Waiting): string {
  switch (waiting.kind) {
    case 'days':
      return `about ${plural(waiting.days, 'more day', 'more days')}`
    case 'tooFew':
      return 'too few visitors here to decide this'
    case 'unknown':
      return ''
    default:
      return waiting satisfies never
  }
}

/** Of a waiting that is told in full: what it is for. */
export function waitingSentence(waiting: Waiting, effectWords: string): string {
  switch (waiting.kind) {
    case 'days':
      return `At the traffic of the last two weeks, a difference of ${effectWords} would be seen after ${waitingWords(waiting)}.`
    case 'tooFew':
      return `There are too few visitors here to decide this: for a difference of ${effectWords} it takes about ${roughCount(waiting.visitors)} more, which is over half a year.`
    case 'unknown':
      return ''
    default:
      return waiting satisfies never
  }
}
