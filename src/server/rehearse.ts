import { createHash } from 'node:crypto'
import { decide, ORIGINAL, type Visitor } from '@/core/decide'
import type { Round } from '@/core/experiment'
import type { Goal } from '@/core/goals'
import type { DocumentId, VersionId } from '@/core/ids'
import type { SimulatedVisitor } from '@/core/simulate'
import { reportSchema, stamp, type StampedEvent } from '@/site/collect/report'

/** What one simulated visitor does in a test whose true rates are known: the events the site would have taken in. */
export function eventsOf(
  visitor: SimulatedVisitor,
  round: Round,
  source: number,
  rates: ReadonlyMap<VersionId, number>,
): StampedEvent[] {
  const draw = {
    test: round.test,
    round: round.id,
    salt: round.salt,
    share: round.design.share,
    arms: round.design.arms,
    paused: false,
  }
  const [decision] = decide({ draws: [draw], ladders: [] }, asVisitor(visitor))
  const page = round.pages[0] ?? round.design.document
  const viewed = take(visitor, source, visitor.arrivesAt, 'view', { d: page, e: [{ k: 'page' }] })
  if (decision === undefined || !decision.counted) return viewed
  const assigned: StampedEvent = {
    id: eventId(source, visitor.id, 'assigned'),
    source,
    visitor: visitor.id,
    at: visitor.arrivesAt,
    kind: 'assigned',
    round: round.id,
    version: decision.version,
  }
  const seen = take(visitor, source, later(visitor, 2000), 'seen', {
    d: page,
    e: [{ k: 'seen', r: round.id, v: decision.version }],
  })
  const primary = round.goals.find(({ id }) => id === round.design.primary)
  const converts = primary !== undefined && visitor.luck < (rates.get(decision.version) ?? rates.get(ORIGINAL) ?? 0)
  return [...viewed, assigned, ...seen, ...(converts ? reachGoal(visitor, source, primary, page) : [])]
}

function reachGoal(visitor: SimulatedVisitor, source: number, goal: Goal, page: DocumentId): StampedEvent[] {
  const at = later(visitor, visitor.ponders)
  const { wiring } = goal
  const event = wiring.kind === 'page' ? { k: 'page' } : { k: 'click', n: [wiring.node] }
  return take(visitor, source, at, 'goal', { d: wiring.kind === 'page' ? wiring.document : page, e: [event] })
}

/** Through the same door as a browser’s report: checked by its schema, stamped by the same code. */
function take(
  visitor: SimulatedVisitor,
  source: number,
  at: Date,
  what: string,
  report: { d: string; e: object[] },
): StampedEvent[] {
  const named = { d: report.d, e: report.e.map((event) => ({ i: eventId(source, visitor.id, what), ...event })) }
  return stamp(reportSchema.parse(named), visitor.id, at, source)
}

/** The same visitor in the same rehearsal makes the same ids, so a rehearsal that was interrupted can begin again. */
function eventId(source: number, visitor: string, what: string): string {
  return createHash('sha256').update(`${source} ${visitor} ${what}`).digest('hex').slice(0, 32)
}

function asVisitor({ id, device }: SimulatedVisitor): Visitor {
  return { id, device, campaign: null, pagesSeen: [], kept: new Map(), leftOut: null }
}

function later(visitor: SimulatedVisitor, milliseconds: number): Date {
  return new Date(visitor.arrivesAt.getTime() + milliseconds)
}
