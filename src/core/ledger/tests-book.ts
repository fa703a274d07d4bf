import * as z from 'zod'
import type { VisitorEvent } from '../events'
import type { GoalId, RoundId, VersionId } from '../ids'
import { kept, mapOf } from './codec'
import { advance, noProgress, progressSchema } from './progress'
import type { Sums } from './rows'
import { isOpen, type CountedRound } from './rules'

const DAY = 86_400_000

/** What a visitor is in a round. Moments are milliseconds since 1970. */
export const enrolmentSchema = z.object({
  version: kept<VersionId>(),
  assignedAt: z.number(),
  /** When the varying part was first really seen, or used; `null` until then. */
  exposedAt: z.number().nullable(),
  /** How far with the goals of the round, from the first exposure on. */
  progress: progressSchema,
  /** What was brought and how often the visitor came, by goal, within its days. */
  worth: mapOf(kept<GoalId>(), z.object({ worth: z.number(), visits: z.number() })),
})
export type Enrolment = z.output<typeof enrolmentSchema>

export const enrolmentsSchema = mapOf(kept<RoundId>(), enrolmentSchema)
export type Enrolments = z.output<typeof enrolmentsSchema>

interface Around {
  readonly rounds: ReadonlyMap<RoundId, CountedRound>
  /** A visit began with this event. */
  readonly began: boolean
  readonly day: string
  readonly sums: Sums
}

/**
 * A test’s numbers: a conversion is credited to the version that was really shown, only from the first exposure on, only
 * within the goal’s days and only while the round is running. A press on the varying part, or a form sent from it, is
 * exposure. A refund takes worth back whenever it comes.
 *
 * @param enrolments are changed
 */
export function foldTests(enrolments: Enrolments, event: VisitorEvent, around: Around): void {
  if (event.kind === 'assigned' || event.kind === 'seen') {
    const round = around.rounds.get(event.round)
    if (round !== undefined && round.versions.includes(event.version) && isOpen(round, event.at))
      enrol(enrolments, event, round, around)
    return
  }
  for (const [id, enrolment] of enrolments) {
    const round = around.rounds.get(id)
    if (round === undefined) continue
    const open = isOpen(round, event.at)
    if (open && enrolment.exposedAt === null && isOnPart(round, event)) expose(enrolment, event.at, round, around)
    if (enrolment.exposedAt === null) continue
    if (open && around.began) comeAgain(enrolment, event.at, round, around)
    if (open || (event.kind === 'order' && event.value < 0)) progressBy(enrolment, event, round, around)
  }
}

type Shown = Extract<VisitorEvent, { kind: 'assigned' | 'seen' }>

/** Being seen implies having been assigned: the note of the assignment may have been lost with a process. */
function enrol(enrolments: Enrolments, event: Shown, round: CountedRound, around: Around): void {
  const { version } = event
  const known = enrolments.get(round.id)
  const enrolment = known ?? {
    version,
    assignedAt: event.at.getTime(),
    exposedAt: null,
    progress: noProgress(),
    worth: new Map(),
  }
  if (known === undefined) {
    enrolments.set(round.id, enrolment)
    around.sums.add('tests', { round: round.id, goal: '', version, day: around.day }, { assigned: 1 })
  }
  if (event.kind === 'seen' && enrolment.exposedAt === null && enrolment.version === version)
    expose(enrolment, event.at, round, around)
}

function isOnPart({ parts }: CountedRound, event: VisitorEvent): boolean {
  return (event.kind === 'click' || event.kind === 'form') && event.nodes.some((node) => parts.has(node))
}

function expose(enrolment: Enrolment, at: Date, round: CountedRound, around: Around): void {
  enrolment.exposedAt = at.getTime()
  const key = { round: round.id, version: enrolment.version, day: around.day }
  around.sums.add('tests', { ...key, goal: '' }, { exposed: 1 })
  for (const goal of round.goals) bring(enrolment, goal.id, { visits: 1, worth: 0 }, { ...key, goal: goal.id }, around)
}

function comeAgain(enrolment: Enrolment, at: Date, round: CountedRound, around: Around): void {
  if (enrolment.exposedAt === null || at.getTime() <= enrolment.exposedAt) return
  const key = { round: round.id, version: enrolment.version, day: around.day }
  for (const goal of round.goals)
    if (isWithin(enrolment, goal.withinDays, at))
      bring(enrolment, goal.id, { visits: 1, worth: 0 }, { ...key, goal: goal.id }, around)
}

function isWithin({ exposedAt }: Enrolment, days: number, at: Date): boolean {
  return exposedAt !== null && at.getTime() >= exposedAt && at.getTime() <= exposedAt + days * DAY
}

function progressBy(enrolment: Enrolment, event: VisitorEvent, round: CountedRound, around: Around): void {
  const goals = round.goals.filter(({ withinDays }) => isWithin(enrolment, withinDays, event.at))
  for (const { goal, first, times, again, worth } of advance(enrolment.progress, goals, round.library, event)) {
    if (again) continue
    const key = { round: round.id, goal, version: enrolment.version, day: around.day }
    around.sums.add('tests', key, { converters: first ? 1 : 0, conversions: times })
    if (worth !== 0) bring(enrolment, goal, { visits: 0, worth }, key, around)
  }
}

/** More worth, or one more visit: sums of squares and products follow what they are of. */
function bring(
  enrolment: Enrolment,
  goal: GoalId,
  more: { readonly visits: number; readonly worth: number },
  key: { round: string; goal: string; version: string; day: string },
  { sums }: Around,
): void {
  const before = enrolment.worth.get(goal) ?? { worth: 0, visits: 0 }
  const after = { worth: before.worth + more.worth, visits: before.visits + more.visits }
  enrolment.worth.set(goal, after)
  sums.add('tests', key, {
    worth: more.worth,
    worthSquared: after.worth ** 2 - before.worth ** 2,
    visits: more.visits,
    visitsSquared: after.visits ** 2 - before.visits ** 2,
    visitsWorth: after.visits * after.worth - before.visits * before.worth,
  })
}
