import murmurhash from 'murmurhash'
import { doing, libraryOf, reaches, withParts, type Goal } from '../goals'
import type { GoalId } from '../ids'
import { normalQuantile } from '../stats'
import { worthNoises, type WorthNoise } from './mix'

/** A lot in [0, 1) by a visitor’s id, and by what it decides. */
export const lotFor = (id: string, what: string): number => murmurhash.v3(`${id} ${what}`) / 2 ** 32

/**
 * The goals that can have a true rate of their own beside the one that decides: nothing that is done for one of the two is
 * what the other counts.
 */
export function goalsApart(goals: readonly Goal[], primary: GoalId | null): Goal[] {
  const deciding = goals.find(({ id }) => id === primary)
  if (deciding === undefined) return []
  const library = libraryOf(goals)
  const done = (goal: Goal) => doing(goal, library, { document: 'x' as never, path: '', pageType: '', order: 'x', value: 1 })
  const counts = (goal: Goal, of: Goal) =>
    withParts([goal.id], library).some((part) =>
      done(of).some((happening) => reaches(part, { visitor: '', at: new Date(0), ...happening }, library)),
    )
  return goals.filter(
    (goal) => goal.id !== primary && done(goal).length > 0 && !counts(deciding, goal) && !counts(goal, deciding),
  )
}

/** No order is reported that is worth more. */
const MOST_WORTH = 1_000_000

/** What somebody’s order is worth, in hundredths exact: of a log-normal spread about this mean. */
export function orderWorth({ mean, noise }: { readonly mean: number; readonly noise: WorthNoise }, id: string): number {
  const spread = worthNoises[noise]
  const lot = Math.min(1 - 1e-9, Math.max(1e-9, lotFor(id, 'worth')))
  const worth = mean * Math.exp(spread * normalQuantile(lot) - (spread * spread) / 2)
  return Math.round(Math.min(MOST_WORTH, worth) * 100) / 100
}
