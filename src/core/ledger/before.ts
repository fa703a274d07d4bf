import type { VersionId, RoundId, GoalId } from '../ids'
import { isOpen, type CountedRound } from './rules'
import type { Enrolment, Enrolments } from './tests-book'
import type { Adder } from './rows'

/** What somebody had done before they first saw a version, for one goal: the most that is known of it. */
export const pasts = ['new', 'looked', 'reached'] as const
export type Past = (typeof pasts)[number]

/** By so many other tests somebody is told apart: who is in more is told apart by those they were in first. */
const MOST_BESIDE = 8

interface Around {
  readonly rounds: ReadonlyMap<RoundId, CountedRound>
  readonly enrolments: Enrolments
  /** Whether this goal of the site has been reached until now, in a test or not; `null` where nobody has a past. */
  readonly hasReached: ((goal: GoalId) => boolean) | null
  readonly sums: Adder
}

/** Somebody has just seen their version for the first time: what they had done until then, and what else they were given. */
export function noteBefore(enrolment: Enrolment, at: Date, round: CountedRound, around: Around): void {
  enrolment.beside = new Map(othersOf(at, round, around).slice(0, MOST_BESIDE))
  if (around.hasReached !== null) enrolment.reachedBefore = new Set(round.goals.map(({ id }) => id).filter(around.hasReached))
  for (const { id } of round.goals) addEarlier(enrolment, id, { exposed: 1 }, round, around)
  addBeside(enrolment, { exposed: 1 }, round, around)
}

/** A goal was reached for the first time since. */
export function noteConverted(enrolment: Enrolment, goal: string, round: CountedRound, around: Around): void {
  const counted = round.goals.find(({ id }) => id === goal)
  if (counted === undefined) return
  addEarlier(enrolment, counted.id, { converters: 1 }, round, around)
  if (goal === round.primary) addBeside(enrolment, { converters: 1 }, round, around)
}

/** The versions of other rounds that they have, and that are still being drawn. */
function othersOf(at: Date, { id }: CountedRound, { rounds, enrolments }: Around): [RoundId, VersionId][] {
  return [...enrolments].flatMap(([other, { version, leftAt }]): [RoundId, VersionId][] => {
    const round = rounds.get(other)
    return other === id || leftAt !== null || round === undefined || !isOpen(round, at) ? [] : [[other, version]]
  })
}

export function pastOf({ traits, reachedBefore }: Enrolment, goal: GoalId): Past {
  if (reachedBefore.has(goal)) return 'reached'
  return traits.returning === 'returning' ? 'looked' : 'new'
}

type By = { readonly exposed?: number; readonly converters?: number }

function addEarlier(enrolment: Enrolment, goal: GoalId, by: By, round: CountedRound, { sums, hasReached }: Around): void {
  if (hasReached === null) return
  const { version, epoch } = enrolment
  sums.add('earlier', { round: round.id, epoch: String(epoch), goal, version, past: pastOf(enrolment, goal) }, by)
}

function addBeside({ version, epoch, beside }: Enrolment, by: By, round: CountedRound, { sums }: Around): void {
  for (const [other, shown] of beside) sums.add('beside', { round: round.id, epoch: String(epoch), version, other, shown }, by)
}
