import { decide, ORIGINAL, stranger, type Visitor } from '@/core/decide'
import { drawOf, type Round } from '@/core/experiment'
import { doing, libraryOf, type Goal } from '@/core/goals'
import type { Happening, StampedEvent } from '@/core/events'
import { eventIdOf } from '@/serving/event-id'
import { homeOf } from '@/serving/regions'
import type { DocumentId, VersionId } from '@/core/ids'
import type { SimulatedVisitor } from '@/core/simulate'

/** What one simulated visitor does in a test whose true rates are known: the events the site would have taken in. */
export function eventsOf(
  visitor: SimulatedVisitor,
  round: Round,
  source: number,
  rates: ReadonlyMap<VersionId, number>,
): StampedEvent[] {
  const [decision] = decide({ draws: [drawOf(round, { paused: false })], ladders: [] }, asVisitor(visitor))
  const page = round.pages[0] ?? round.design.document
  const view = {
    kind: 'page' as const,
    ...somewhere(page),
    arrival: { source: 'direct', device: visitor.device, region: homeOf(visitor.id) },
  }
  const viewed = [made(visitor, source, visitor.arrivesAt, 'view', view)]
  if (decision === undefined || !decision.counted) return viewed
  const shown = { round: round.id, version: decision.version }
  const assigned = made(visitor, source, visitor.arrivesAt, 'assigned', { kind: 'assigned', ...shown })
  const seen = made(visitor, source, later(visitor, 2000), 'seen', { kind: 'seen', ...shown })
  const primary = round.goals.find(({ id }) => id === round.design.primary)
  const converts = primary !== undefined && visitor.luck < (rates.get(decision.version) ?? rates.get(ORIGINAL) ?? 0)
  return [...viewed, assigned, seen, ...(converts ? reachGoal(visitor, source, primary, round.goals, page) : [])]
}

function reachGoal(
  visitor: SimulatedVisitor,
  source: number,
  goal: Goal,
  goals: readonly Goal[],
  page: DocumentId,
): StampedEvent[] {
  const order = eventId(source, visitor.id, 'order').slice(0, 12)
  const value = 10 + (Math.round(visitor.luck * 1e6) % 60)
  return doing(goal, libraryOf(goals), { ...somewhere(page), order, value }).map((happening, step) =>
    made(visitor, source, later(visitor, visitor.ponders + step * 10_000), `goal ${step}`, happening),
  )
}

/** Where rehearsals happen is not asked: their pages count in no statistics of the site. */
function somewhere(document: DocumentId) {
  return { document, path: '', pageType: '' }
}

function made(visitor: SimulatedVisitor, source: number, at: Date, what: string, happening: Happening): StampedEvent {
  return { id: eventId(source, visitor.id, what), source, visitor: visitor.id, at, ...happening }
}

/** The same visitor in the same rehearsal makes the same ids, so a rehearsal that was interrupted can begin again. */
function eventId(source: number, visitor: string, what: string): string {
  return eventIdOf(`${source} ${visitor} ${what}`)
}

function asVisitor({ id, device }: SimulatedVisitor): Visitor {
  return { ...stranger, id, device, region: homeOf(id) }
}

function later(visitor: SimulatedVisitor, milliseconds: number): Date {
  return new Date(visitor.arrivesAt.getTime() + milliseconds)
}
