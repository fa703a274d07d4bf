import * as z from 'zod'
import type { VisitorEvent } from '../events'
import type { Goal } from '../goals'
import type { GoalId, RoundId, VersionId } from '../ids'
import { noteBefore, noteConverted } from './before'
import { kept, mapOf, textsSchema } from './codec'
import { noteDoing, noteReached, noteVisit } from './doings'
import { advance, noProgress, progressSchema } from './progress'
import type { Adder, KeyOf, SumOf } from './rows'
import { epochAt, isOpen, type CountedRound } from './rules'
import { SEGMENT, traits, traitsIn } from './traits'
import { SILENCE, type Visit } from './visit'
import { worthClass } from './worth-class'

const DAY = 86_400_000

/** What a visitor is in a round. Moments are milliseconds since 1970. */
export const enrolmentSchema = z.object({
  version: kept<VersionId>(),
  assignedAt: z.number(),
  /** In which they were drawn, for good. */
  epoch: z.number().default(1),
  /** As they were when first exposed; whose names are not here are not known. */
  traits: z.partialRecord(z.enum(traits), z.string()).default({}),
  /** Which segments fitted, and which did not, when they were given their version; empty where nobody wrote it down. */
  segments: textsSchema,
  /** Goals that they had reached before they first saw it, and the versions of other rounds that they had then. */
  reachedBefore: textsSchema,
  beside: mapOf(kept<RoundId>(), kept<VersionId>()),
  /** When they were given another version, as theirs was switched off: from then on it is credited nothing. */
  leftAt: z.number().nullable().default(null),
  /** When the varying part was first really seen, or used; `null` until then. */
  exposedAt: z.number().nullable(),
  /** The page on which they were given it, and that on which they first saw it, with the number of that visit. */
  givenOn: z.string().nullable().default(null),
  seenOn: z.string().nullable().default(null),
  seenIn: z.number().nullable().default(null),
  /** What they have been counted for (`doings`). */
  did: textsSchema,
  /** How far with the goals of the round, from the first exposure on. */
  progress: progressSchema,
  /** What was brought and how often the visitor came, by goal, within its days. */
  worth: mapOf(kept<GoalId>(), z.object({ worth: z.number(), visits: z.number() })),
})
export type Enrolment = z.output<typeof enrolmentSchema>

export const enrolmentsSchema = mapOf(kept<RoundId>(), enrolmentSchema)
export type Enrolments = z.output<typeof enrolmentsSchema>

interface Around {
  /** Are changed. */
  readonly enrolments: Enrolments
  readonly rounds: ReadonlyMap<RoundId, CountedRound>
  /** The visit that this event is part of, or the last before it; and whether it began with it. */
  readonly visit: Visit | null
  readonly began: boolean
  readonly day: string
  /** Whether this goal of the site has been reached until now; `null` where nobody has a past. */
  readonly hasReached: ((goal: GoalId) => boolean) | null
  readonly sums: Adder
}

/**
 * A test’s numbers: a conversion is credited to the version that was really shown, only from the first exposure on, only
 * within the goal’s days and only while the round is running. A press on the varying part, or a form sent from it, is
 * exposure. A refund takes worth back whenever it comes.
 */
export function foldTests(event: VisitorEvent, around: Around): void {
  if (event.kind === 'assigned' || event.kind === 'seen') {
    const round = around.rounds.get(event.round)
    if (round !== undefined && round.versions.includes(event.version) && isOpen(round, event.at)) enrol(event, round, around)
    return
  }
  for (const [id, enrolment] of around.enrolments) {
    const round = around.rounds.get(id)
    if (round === undefined) continue
    if (enrolment.leftAt !== null && !isRefund(event)) continue
    const open = isOpen(round, event.at)
    if (open && enrolment.exposedAt === null && isOnPart(round, event)) expose(enrolment, event.at, round, around)
    if (open) noteDoing(enrolment, event, round, around)
    if (enrolment.exposedAt === null) continue
    if (open && around.began) comeAgain(enrolment, event.at, round, around)
    if (open || isRefund(event)) progressBy(enrolment, event, round, around)
  }
}

const isRefund = (event: VisitorEvent) => event.kind === 'order' && event.value < 0

type Shown = Extract<VisitorEvent, { kind: 'assigned' | 'seen' }>

/**
 * Where a version is kept for a visit or a view alone, each of them is counted by itself: being given one again after the
 * visit was over, or with another view, begins the next.
 */
function beginsAnew({ assignedAt }: Enrolment, event: Shown, { keeping }: CountedRound, { visit }: Around): boolean {
  if (keeping === 'browser' || event.kind !== 'assigned') return false
  const at = event.at.getTime()
  return keeping === 'view' ? at > assignedAt : at - Math.max(visit?.lastAt ?? 0, assignedAt) > SILENCE
}

/** Being seen implies having been assigned: the note of the assignment may have been lost with a process. */
function enrol(event: Shown, round: CountedRound, around: Around): void {
  const { version } = event
  const { enrolments } = around
  const before = enrolments.get(round.id)
  const known = before !== undefined && beginsAnew(before, event, round, around) ? undefined : before
  const enrolment = known ?? {
    version,
    assignedAt: event.at.getTime(),
    epoch: epochAt(round, event.at),
    traits: {},
    segments: new Set(event.kind === 'assigned' ? event.segments : []),
    reachedBefore: new Set<string>(),
    beside: new Map<RoundId, VersionId>(),
    leftAt: null,
    givenOn: event.kind === 'assigned' ? (event.document ?? null) : null,
    seenOn: null,
    seenIn: null,
    did: new Set(),
    exposedAt: null,
    progress: noProgress(),
    worth: new Map(),
  }
  if (known === undefined) {
    enrolments.set(round.id, enrolment)
    around.sums.add('tests', keyOf(enrolment, round, '', around), { assigned: 1 })
  } else if (event.kind === 'assigned' && known.version !== version) known.leftAt ??= event.at.getTime()
  if (event.kind === 'seen' && enrolment.exposedAt === null && enrolment.leftAt === null && enrolment.version === version)
    expose(enrolment, event.at, round, around)
}

function isOnPart({ parts }: CountedRound, event: VisitorEvent): boolean {
  return (event.kind === 'click' || event.kind === 'form') && event.nodes.some((node) => parts.has(node))
}

function expose(enrolment: Enrolment, at: Date, round: CountedRound, around: Around): void {
  enrolment.exposedAt = at.getTime()
  for (const [trait, value] of Object.entries(traitsIn(around.visit)))
    if (value !== null) enrolment.traits = { ...enrolment.traits, [trait]: value }
  noteVisit(enrolment, round, around)
  note(enrolment, keyOf(enrolment, round, '', around), { exposed: 1 }, around)
  noteBefore(enrolment, at, round, around)
  for (const goal of round.goals) bring(enrolment, goal.id, { visits: 1, worth: 0 }, round, around)
}

function comeAgain(enrolment: Enrolment, at: Date, round: CountedRound, around: Around): void {
  if (enrolment.exposedAt === null || at.getTime() <= enrolment.exposedAt) return
  for (const goal of round.goals)
    if (isWithin(enrolment, goal.withinDays, at)) bring(enrolment, goal.id, { visits: 1, worth: 0 }, round, around)
}

function isWithin({ exposedAt }: Enrolment, days: number, at: Date): boolean {
  return exposedAt !== null && at.getTime() >= exposedAt && at.getTime() <= exposedAt + days * DAY
}

function progressBy(enrolment: Enrolment, event: VisitorEvent, round: CountedRound, around: Around): void {
  const counts = ({ withinDays }: Goal) => isWithin(enrolment, withinDays, event.at)
  const goals = round.goals.every(counts) ? round.goals : round.goals.filter(counts)
  for (const { goal, first, times, again, worth } of advance(enrolment.progress, goals, round.library, event)) {
    if (again) continue
    note(enrolment, keyOf(enrolment, round, goal, around), { converters: first ? 1 : 0, conversions: times }, around)
    if (first) noteReached(enrolment, goal, event.at, round, around)
    if (first) noteConverted(enrolment, goal, round, around)
    if (worth !== 0) bring(enrolment, goal, { visits: 0, worth }, round, around)
  }
}

/** More worth, or one more visit: sums of squares and products follow what they are of. */
function bring(
  enrolment: Enrolment,
  goal: GoalId,
  more: { readonly visits: number; readonly worth: number },
  round: CountedRound,
  around: Around,
): void {
  const before = enrolment.worth.get(goal) ?? { worth: 0, visits: 0 }
  const after = { worth: before.worth + more.worth, visits: before.visits + more.visits }
  enrolment.worth.set(goal, after)
  const by = {
    worth: more.worth,
    worthSquared: after.worth ** 2 - before.worth ** 2,
    visits: more.visits,
    visitsSquared: after.visits ** 2 - before.visits ** 2,
    visitsWorth: after.visits * after.worth - before.visits * before.worth,
  }
  const key = keyOf(enrolment, round, goal, around)
  note(enrolment, key, by, around)
  classify(key, before, -1, around)
  classify(key, after, 1, around)
}

/** Into the class of what somebody has brought, or out of the one they were in. */
function classify(
  { round, epoch, goal, version }: Key,
  { worth, visits }: { readonly worth: number; readonly visits: number },
  times: 1 | -1,
  { sums }: Around,
): void {
  const of = worthClass(worth)
  if (of === null) return
  sums.add(
    'worths',
    { round, epoch, goal, version, class: String(of) },
    {
      visitors: times,
      worth: times * worth,
      worthSquared: times * worth ** 2,
      visits: times * visits,
      visitsWorth: times * visits * worth,
    },
  )
}

type Key = { readonly [Part in KeyOf<'tests'>]: string }

function keyOf({ version, epoch }: Enrolment, round: CountedRound, goal: GoalId | '', { day }: Around): Key {
  return { round: round.id, epoch: String(epoch), goal, version, day }
}

/** Of somebody exposed: in the whole, and once for each thing that is known of them. */
function note(
  { traits: known, segments }: Enrolment,
  key: Key,
  by: { readonly [Sum in SumOf<'segments'>]?: number },
  { sums }: Around,
): void {
  sums.add('tests', key, by)
  const { round, epoch, goal, version, day } = key
  for (const trait of traits) {
    const value = known[trait]
    if (value !== undefined) sums.add('segments', { round, epoch, goal, version, day, trait, value }, by)
  }
  for (const value of segments) sums.add('segments', { round, epoch, goal, version, day, trait: SEGMENT, value }, by)
}
