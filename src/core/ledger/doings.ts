import type { VisitorEvent } from '../events'
import type { GoalId } from '../ids'
import type { CountedRound } from './rules'
import type { Adder } from './rows'
import type { Enrolment } from './tests-book'
import type { Visit } from './visit'

/**
 * What those do who take part, whether a goal asks for it or not:
 *   visit     the visit in which they first saw the version     stayed    of those, the ones that were more than one look
 *   next      the page that they went to from there             read      the varying part was in view long enough
 *   pressed   a component on the page where they saw it         spot      the same by device and place within it
 *   after     a goal, with the days of 24 hours from their first sight of the version until they first reached it
 *   paint, response, shift   how fast their first page with it was, in classes (`speedClass`)
 */
export const doings = ['visit', 'stayed', 'next', 'read', 'pressed', 'spot', 'after', 'paint', 'response', 'shift'] as const
export type Doing = (typeof doings)[number]

export const speeds = ['paint', 'response', 'shift'] as const
export type Speed = (typeof speeds)[number]

interface Around {
  readonly visit: Visit | null
  readonly sums: Adder
}

/** Each class of milliseconds is a tenth wider than the one before it; of shifts it is a hundredth. */
const WIDER = Math.log(1.1)
const MOST_SHIFT = 200

export function speedClass(speed: Speed, measured: number): number {
  if (speed === 'shift') return Math.min(MOST_SHIFT, Math.floor(measured * 100))
  return measured < 1 ? 0 : 1 + Math.floor(Math.log(measured) / WIDER)
}

/** The middle of a class, in milliseconds or as a shift. */
export function speedIn(speed: Speed, of: number): number {
  if (speed === 'shift') return (of + 0.5) / 100
  return of === 0 ? 0.5 : Math.exp((of - 0.5) * WIDER)
}

/** More different things by one visitor are not told apart any more: a page has not so many to press. */
const MOST_DID = 60

/** Somebody has just seen their version for the first time. */
export function noteVisit(enrolment: Enrolment, round: CountedRound, around: Around): void {
  const { visit } = around
  if (visit === null) return
  enrolment.seenIn = visit.number
  enrolment.seenOn = visit.lastDocument
  once(enrolment, 'visit', '', round, around)
  if (visit.stayed) once(enrolment, 'stayed', '', round, around)
}

/** What an event says of somebody who takes part, while the round is open. @param enrolment is changed */
export function noteDoing(enrolment: Enrolment, event: VisitorEvent, round: CountedRound, around: Around): void {
  if (event.kind === 'speed') return noteSpeed(enrolment, event, round, around)
  const { visit } = around
  const { seenOn } = enrolment
  if (visit === null || seenOn === null) return
  if (visit.number === enrolment.seenIn) {
    if (visit.stayed) once(enrolment, 'stayed', '', round, around)
    if (event.kind === 'page' && event.document !== seenOn && !hasDone(enrolment, 'next')) {
      enrolment.did.add('next')
      add(enrolment, 'next', event.document, { times: 1, visitors: 1 }, round, around)
    }
  }
  if (event.kind === 'read' && round.parts.has(event.node)) once(enrolment, 'read', event.node, round, around)
  const [node] = event.kind === 'click' ? event.nodes : []
  if (event.kind !== 'click' || event.spot === undefined || node === undefined || event.document !== seenOn) return
  const isFirst = !hasDone(enrolment, `pressed ${node}`) && enrolment.did.size < MOST_DID
  if (isFirst) enrolment.did.add(`pressed ${node}`)
  add(enrolment, 'pressed', node, { times: 1, visitors: isFirst ? 1 : 0 }, round, around)
  const [x, y] = event.spot
  add(enrolment, 'spot', `${node} ${x}${y} ${visit.device ?? ''}`, { times: 1, visitors: 0 }, round, around)
}

const DAY = 86_400_000

/** A goal was reached for the first time. */
export function noteReached(enrolment: Enrolment, goal: GoalId, at: Date, round: CountedRound, around: Around): void {
  if (enrolment.exposedAt === null) return
  const age = Math.floor((at.getTime() - enrolment.exposedAt) / DAY)
  add(enrolment, 'after', `${goal} ${age}`, { times: 1, visitors: 1 }, round, around)
}

/** The first page with the version is what its speed goes by, whether the part was seen on it or not. */
function noteSpeed(
  enrolment: Enrolment,
  event: Extract<VisitorEvent, { kind: 'speed' }>,
  round: CountedRound,
  around: Around,
): void {
  if (event.document !== (enrolment.givenOn ?? enrolment.seenOn) || hasDone(enrolment, 'speed')) return
  enrolment.did.add('speed')
  for (const speed of speeds) {
    const measured = event[speed]
    if (measured === null) continue
    const what = String(speedClass(speed, measured))
    add(enrolment, speed, what, { times: 1, visitors: 1 }, round, around)
  }
}

const hasDone = ({ did }: Enrolment, what: string) => did.has(what)

function once(enrolment: Enrolment, doing: Doing, what: string, round: CountedRound, around: Around): void {
  const mark = what === '' ? doing : `${doing} ${what}`
  if (hasDone(enrolment, mark)) return
  enrolment.did.add(mark)
  add(enrolment, doing, what, { times: 1, visitors: 1 }, round, around)
}

function add(
  { version, seenOn, givenOn }: Enrolment,
  doing: Doing,
  what: string,
  by: { readonly times: number; readonly visitors: number },
  round: CountedRound,
  { sums }: Around,
): void {
  sums.add('doings', { round: round.id, version, document: seenOn ?? givenOn ?? '', doing, what }, by)
}
