import type { GoalId, RoundId, VersionId } from '../ids'
import { reaches, worthOf, type VisitorEvent } from './event'
import { libraryOf, stepId, type Goal, type Library } from './goal'

/** What is known of one visitor in one round. */
export interface Enrolment {
  readonly version: VersionId
  readonly assignedAt: Date
  /** When the varying part was first really seen; `null` until then. */
  readonly exposedAt: Date | null
  readonly conversions: ReadonlyMap<GoalId, Conversion>
}

export interface Conversion {
  readonly times: number
  readonly worth: number
  readonly firstAt: Date
  /** The orders that were counted, so that their refunds are taken back and no others. */
  readonly orders: readonly string[]
}

/** A round as far as counting goes. */
export interface CountedRound {
  readonly id: RoundId
  readonly versions: readonly VersionId[]
  /** The goals that are counted. */
  readonly goals: readonly Goal[]
  /** These, and the goals that they are made of. */
  readonly library: Library
  readonly startedAt: Date
  readonly endedAt: Date | null
}

/** What one event changes in one round. Worth is before and after, so that sums of squares can follow. */
export type Change = { readonly round: RoundId; readonly version: VersionId; readonly at: Date } & (
  | { readonly kind: 'assigned' }
  | { readonly kind: 'exposed' }
  | {
      readonly kind: 'converted'
      readonly goal: GoalId
      readonly first: boolean
      /** 0 for a refund, which changes worth and nothing else. */
      readonly times: 0 | 1
      readonly worthBefore: number
      readonly worthAfter: number
      /** The visitor's visits so far, the first exposure's included. */
      readonly visits: number
      readonly order: string | null
    }
  /** One more visit of somebody who had brought something before: what `worth` is times visits grows by it. */
  | { readonly kind: 'cameAgain'; readonly goal: GoalId; readonly worth: number }
)

/** A conversion that changes nothing but a count: a step of a funnel passed. */
type Converted = Extract<Change, { kind: 'converted' }>

const DAY = 86_400_000

/**
 * Visits after the one in which a visitor was first exposed, counted as if they were a goal; worth is shared out by them.
 * Each is worth 1, so that the sum of their squares is kept as it is of worth.
 */
export const VISITS: Goal = {
  id: 'visits' as GoalId,
  name: 'Visits',
  wiring: { kind: 'event', event: 'visit' },
  worth: 1,
  worthIn: 'points',
  worthFrom: 'fixed',
  counts: 'everyTime',
  withinDays: 90,
}

export function countedRound(round: Omit<CountedRound, 'library'> & { readonly parts?: readonly Goal[] }): CountedRound {
  return { ...round, library: libraryOf([...(round.parts ?? []), ...round.goals]) }
}

/**
 * The changes that an event makes for its visitor, by the rules of counting: a conversion is credited to the version
 * that was really shown, only after exposure, only within the goal's days, once where the goal counts once, and only
 * while the round is open. A refund takes back the worth of an order that was counted, whenever it comes. The same event
 * must not be passed twice; the store keeps event ids for that.
 */
export function credit(
  event: VisitorEvent,
  rounds: readonly CountedRound[],
  enrolled: ReadonlyMap<RoundId, Enrolment>,
): Change[] {
  if (event.kind === 'order' && event.value < 0)
    return rounds.flatMap((round) => refund(round, event.order, event.value, event.at, enrolled.get(round.id)))
  return rounds.filter((round) => isOpen(round, event.at)).flatMap((round) => creditIn(round, event, enrolled.get(round.id)))
}

function creditIn(round: CountedRound, event: VisitorEvent, enrolment: Enrolment | undefined): Change[] {
  if (event.kind === 'assigned' || event.kind === 'seen') {
    if (event.round !== round.id || !round.versions.includes(event.version)) return []
    return enrol(event.kind, { round: round.id, version: event.version, at: event.at }, enrolment)
  }
  if (!enrolment?.exposedAt) return []
  const { exposedAt } = enrolment
  const visit = event.kind === 'page' && event.arrival !== null && event.at > exposedAt
  const visits = visitsOf(enrolment) + (visit ? 1 : 0)
  return [
    ...(visit
      ? [...convert(round, VISITS, event, enrolment, VISITS.worth, visits), ...comeAgain(round, event.at, enrolment)]
      : []),
    ...round.goals.flatMap((goal): Change[] => {
      const tooLate = event.at.getTime() > exposedAt.getTime() + goal.withinDays * DAY
      if (tooLate || event.at < exposedAt) return []
      if (goal.wiring.kind === 'steps') return stepOn(round, goal, event, enrolment, visits)
      return reaches(goal, event, round.library) ? convert(round, goal, event, enrolment, worthOf(goal, event), visits) : []
    }),
  ]
}

/** Visits from the first exposure on, that one included. */
function visitsOf({ conversions }: Enrolment): number {
  return 1 + (conversions.get(VISITS.id)?.times ?? 0)
}

function comeAgain({ id: round }: CountedRound, at: Date, { version, conversions }: Enrolment): Change[] {
  return [...conversions]
    .filter(([goal, { worth }]) => goal !== VISITS.id && worth !== 0)
    .map(([goal, { worth }]) => ({ kind: 'cameAgain', round, version, at, goal, worth }))
}

function convert(
  round: CountedRound,
  goal: Goal,
  event: VisitorEvent,
  enrolment: Enrolment,
  worth: number,
  visits: number,
): Converted[] {
  const before = enrolment.conversions.get(goal.id)
  if (before !== undefined && goal.counts === 'once') return []
  return [
    {
      kind: 'converted',
      round: round.id,
      version: enrolment.version,
      at: event.at,
      goal: goal.id,
      first: before === undefined,
      times: 1,
      worthBefore: before?.worth ?? 0,
      worthAfter: (before?.worth ?? 0) + worth,
      visits,
      order: event.kind === 'order' ? event.order : null,
    },
  ]
}

/** The next step of a funnel, where this event is it; with the last step the funnel itself is reached. One event, one step. */
function stepOn(round: CountedRound, goal: Goal, event: VisitorEvent, enrolment: Enrolment, visits: number): Change[] {
  const steps = goal.wiring.kind === 'steps' ? goal.wiring.goals : []
  const passed = stepsPassed(goal, enrolment.conversions)
  const next = round.library.get(steps[passed] as GoalId)
  if (next === undefined || !reaches(next, event, round.library)) return []
  const step: Goal = { ...goal, id: stepId(goal.id, passed + 1), counts: 'once' }
  const through = passed + 1 === steps.length ? convert(round, goal, event, enrolment, worthOf(goal, event), visits) : []
  return [...convert(round, step, event, enrolment, 0, visits), ...through]
}

/** How many steps of a funnel are behind a visitor. */
export function stepsPassed(goal: Goal, conversions: { has(id: GoalId): boolean }): number {
  let passed = 0
  while (conversions.has(stepId(goal.id, passed + 1))) passed++
  return passed
}

function refund(round: CountedRound, order: string, value: number, at: Date, enrolment: Enrolment | undefined): Change[] {
  if (enrolment === undefined || at < round.startedAt) return []
  return round.goals.flatMap((goal): Change[] => {
    const before = enrolment.conversions.get(goal.id)
    if (goal.worthFrom !== 'reported' || before === undefined || !before.orders.includes(order)) return []
    const change = {
      round: round.id,
      version: enrolment.version,
      at,
      goal: goal.id,
      first: false,
      times: 0 as const,
      visits: visitsOf(enrolment),
      order: null,
    }
    return [{ ...change, kind: 'converted', worthBefore: before.worth, worthAfter: before.worth + value }]
  })
}

/** Being seen implies having been assigned: the note of the assignment may have been lost with a process. */
function enrol(
  kind: 'assigned' | 'seen',
  subject: { round: RoundId; version: VersionId; at: Date },
  enrolment: Enrolment | undefined,
): Change[] {
  const assigned: Change[] = enrolment === undefined ? [{ ...subject, kind: 'assigned' }] : []
  if (kind === 'assigned') return assigned
  if (enrolment !== undefined && (enrolment.exposedAt !== null || enrolment.version !== subject.version)) return []
  return [...assigned, { ...subject, kind: 'exposed' }]
}

function isOpen(round: CountedRound, at: Date): boolean {
  return at >= round.startedAt && (round.endedAt === null || at <= round.endedAt)
}

/** The enrolment after a change, for the next event of the same visitor. */
export function enrolmentAfter(enrolment: Enrolment | undefined, change: Change): Enrolment {
  const now = enrolment ?? { version: change.version, assignedAt: change.at, exposedAt: null, conversions: new Map() }
  if (change.kind === 'assigned' || change.kind === 'cameAgain') return now
  if (change.kind === 'exposed') return { ...now, exposedAt: change.at }
  const before = now.conversions.get(change.goal)
  const conversion: Conversion = {
    times: (before?.times ?? 0) + change.times,
    worth: change.worthAfter,
    firstAt: before?.firstAt ?? change.at,
    orders: [...(before?.orders ?? []), ...(change.order === null ? [] : [change.order])],
  }
  return { ...now, conversions: new Map(now.conversions).set(change.goal, conversion) }
}
