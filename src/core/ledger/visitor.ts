import * as z from 'zod'
import type { VisitorEvent } from '../events'
import type { GoalId } from '../ids'
import { callsSchema, foldCalls } from './calls-book'
import { copied, keptText } from './codec'
import { advance, noProgress, progressSchema } from './progress'
import { nowhere, Sums, type Adder } from './rows'
import { rulesAt, type Rules } from './rules'
import { foldSite, presenceSchema, subjects } from './site-book'
import { enrolmentsSchema, foldTests } from './tests-book'
import { visitAfter, visitSchema } from './visit'

/** All that counting has to remember of one visitor, as it is kept. */
export const visitorSchema = z.object({
  visit: visitSchema.nullable(),
  presence: presenceSchema,
  /** How far with the goals of the site. */
  progress: progressSchema,
  enrolments: enrolmentsSchema,
  calls: callsSchema,
})
export type VisitorState = z.output<typeof visitorSchema>

/** As it is kept: the same text as by the schema. */
export const keptVisitor = (state: VisitorState): string => keptText(state) ?? '{}'

export const unknownVisitor = (): VisitorState => ({
  visit: null,
  presence: { day: null, known: new Set() },
  progress: noProgress(),
  enrolments: new Map(),
  calls: { press: null, credited: new Set(), orders: new Map(), refunds: new Map() },
})

/** An event with its place among those that arrived. */
export interface Arrived {
  readonly seq: number
  readonly event: VisitorEvent
}

/** Events count in the order in which they happened; of the same moment, in that in which they arrived. */
export function byTime(one: Arrived, other: Arrived): number {
  return one.event.at.getTime() - other.event.at.getTime() || one.seq - other.seq
}

/** `everything` of live visitors; of those of a rehearsal, whose pages are no page of the site, their test alone. */
export type Scope = 'everything' | 'tests'

/** A page, a goal or another subject of the site’s figures that a visitor is counted for, since which day. */
export interface First {
  readonly subject: string
  readonly day: string
}

/** Where what is counted goes: rows that are being added up, and whom they count for the first time. */
export interface Counting {
  readonly sums: Adder
  readonly firsts: First[]
}
interface Counted extends Counting {
  readonly sums: Sums
}

export const nothingCounted = (): Counted => ({ sums: new Sums(), firsts: [] })

/**
 * Takes a visitor’s events, in their order, into what is remembered of them.
 *
 * @param before is not changed
 * @returns the visitor after them, and what they count for
 */
export function fold(
  before: VisitorState,
  events: readonly Arrived[],
  rules: Rules,
  scope: Scope,
): { readonly after: VisitorState } & Counted {
  const into = nothingCounted()
  return { after: foldInto(copied(before), events, rules, scope, into), ...into }
}

/** The same. @param state is changed, and given back @param into is added to */
export function foldInto(
  state: VisitorState,
  events: readonly Arrived[],
  rules: Rules,
  scope: Scope,
  into: Counting,
): VisitorState {
  for (const { event } of events) foldOne(state, event, rules, scope, into)
  return state
}

function foldOne(state: VisitorState, event: VisitorEvent, rules: Rules, scope: Scope, { sums, firsts }: Counting): void {
  const { bounceSeconds, goals, library, dayOf } = rulesAt(rules.site, event.at)
  const day = dayOf(event.at)
  const visitBefore = state.visit
  const visit = visitAfter(visitBefore, event, bounceSeconds)
  state.visit = visit
  const began = visit !== null && visit.number !== visitBefore?.number
  const hasReached = scope === 'tests' ? null : (goal: GoalId) => state.presence.known.has(subjects.goal(goal))
  foldTests(event, { enrolments: state.enrolments, rounds: rules.rounds, visit, began, day, hasReached, sums })
  if (scope === 'tests') return
  const reached = advance(state.progress, goals, library, event)
  foldSite(state.presence, event, {
    visit: { before: visitBefore, after: visit },
    reached,
    dayOf,
    sums,
    first: (subject, on) => firsts.push({ subject, day: on }),
  })
  foldCalls(state.calls, event, { calls: rules.calls, goals, reached, day, sums })
}

/** A visitor up to the last event that was counted. */
export interface Known {
  readonly state: VisitorState
  readonly last: { readonly at: Date; readonly seq: number }
}

/** What is kept of a visitor’s past: who they were where it begins, and the events counted since, in their order. */
export interface History {
  readonly base: VisitorState
  readonly counted: readonly Arrived[]
}

/** Whether one of these happened before something that has been counted: then the visitor’s history is needed. */
export function isLate(known: Known | null, fresh: readonly Arrived[]): boolean {
  return (
    known !== null && fresh.some(({ seq, event }) => (event.at.getTime() - known.last.at.getTime() || seq - known.last.seq) <= 0)
  )
}

/**
 * What fresh events change. Those that are late make the visitor be counted anew from the history, and what differs is
 * what changes: the same rows, in whatever order events arrive and in whatever batches.
 *
 * @param known is used up: whoever asks goes on with what comes back
 * @param history where `isLate`
 * @param into is added to
 */
export function recount(
  known: Known | null,
  fresh: readonly Arrived[],
  history: History | null,
  rules: Rules,
  scope: Scope,
  into: Counted,
): Known {
  const inOrder = [...fresh].sort(byTime)
  const [first, newest] = [inOrder[0], inOrder.at(-1)]
  if (first === undefined || newest === undefined) return known ?? { state: unknownVisitor(), last: { at: new Date(0), seq: 0 } }
  const last = known !== null && isLate(known, [newest]) ? known.last : { at: newest.event.at, seq: newest.seq }
  if (!isLate(known, fresh)) return { state: foldInto(known?.state ?? unknownVisitor(), inOrder, rules, scope, into), last }
  if (history === null) throw new Error('events are late, and the history of their visitor is not at hand')
  // What was before the first of them was counted as it is, and stays.
  const place = history.counted.findIndex((one) => byTime(first, one) < 0)
  const since = place === -1 ? history.counted.length : place
  const until = foldInto(copied(history.base), history.counted.slice(0, since), rules, scope, { sums: nowhere, firsts: [] })
  const counted = history.counted.slice(since)
  foldInto(copied(until), counted, rules, scope, { sums: into.sums.less, firsts: [] })
  return { state: foldInto(until, [...counted, ...inOrder].sort(byTime), rules, scope, into), last }
}
