import type { GoalId, RoundId, VersionId } from '../ids'
import { reaches, type VisitorEvent } from './event'
import type { Goal } from './goal'

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
}

/** A round as far as counting goes. */
export interface CountedRound {
  readonly id: RoundId
  readonly versions: readonly VersionId[]
  readonly goals: readonly Goal[]
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
      readonly worthBefore: number
      readonly worthAfter: number
    }
)

const DAY = 86_400_000

/**
 * The changes that an event makes for its visitor, by the rules of counting: a conversion is credited to the version
 * that was really shown, only after exposure, only within the goal's days, once where the goal counts once, and only
 * while the round is open. The same event must not be passed twice; the store keeps event ids for that.
 */
export function credit(
  event: VisitorEvent,
  rounds: readonly CountedRound[],
  enrolled: ReadonlyMap<RoundId, Enrolment>,
): Change[] {
  return rounds.filter((round) => isOpen(round, event.at)).flatMap((round) => creditIn(round, event, enrolled.get(round.id)))
}

function creditIn(round: CountedRound, event: VisitorEvent, enrolment: Enrolment | undefined): Change[] {
  if (event.kind === 'assigned' || event.kind === 'seen') {
    if (event.round !== round.id || !round.versions.includes(event.version)) return []
    return enrol(event.kind, { round: round.id, version: event.version, at: event.at }, enrolment)
  }
  if (!enrolment?.exposedAt) return []
  const { version, exposedAt, conversions } = enrolment
  return round.goals.flatMap((goal): Change[] => {
    if (!reaches(goal, event)) return []
    const before = conversions.get(goal.id)
    const tooLate = event.at.getTime() > exposedAt.getTime() + goal.withinDays * DAY
    if (tooLate || event.at < exposedAt || (before !== undefined && goal.counts === 'once')) return []
    const worthBefore = before?.worth ?? 0
    const change = { round: round.id, version, at: event.at, goal: goal.id, first: before === undefined }
    return [{ ...change, kind: 'converted', worthBefore, worthAfter: worthBefore + goal.worth }]
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
  if (change.kind !== 'converted') return change.kind === 'assigned' ? now : { ...now, exposedAt: change.at }
  const before = now.conversions.get(change.goal)
  const conversion = { times: (before?.times ?? 0) + 1, worth: change.worthAfter, firstAt: before?.firstAt ?? change.at }
  return { ...now, conversions: new Map(now.conversions).set(change.goal, conversion) }
}
