import { decide, noUtm, ORIGINAL, stranger, type Ladder, type Moment, type Visitor } from '@/core/decide'
import { BY_RULE, drawOf, type Round } from '@/core/experiment'
import { doing, libraryOf, reaches, type Goal } from '@/core/goals'
import type { Happening, StampedEvent } from '@/core/events'
import { eventIdOf } from '@/serving/event-id'
import { homeOf } from '@/serving/regions'
import type { DocumentId, GoalId, VersionId } from '@/core/ids'
import {
  lotFor,
  lotOf,
  origins,
  rateOn,
  seenShare,
  sourceFrom,
  wanderings,
  type Mishap,
  type SimulatedVisitor,
  type Surroundings,
} from '@/core/simulate'

/** Which segments fit somebody, as it is written down (`noteOfSegments`). */
type SegmentsOf = (visitor: Visitor) => readonly string[]
const nobodyAsks: SegmentsOf = () => []

interface Besides {
  readonly segmentsOf?: SegmentsOf
  /** What there is to do besides, in a version; nothing where nothing is said. */
  readonly around?: (version: VersionId) => Surroundings
  /** Milliseconds by which somebody reaches the goal later than at their first visit; none where nothing is said. */
  readonly later?: (visitor: SimulatedVisitor) => number
  /** What has gone wrong with a version, and on which day, from none, a visitor comes; nothing where nothing is said. */
  readonly mishapOf?: (version: VersionId) => Mishap
  readonly dayOf?: (visitor: SimulatedVisitor) => number
  /** What somebody had done on an earlier visit; nobody had been here where nothing is said. */
  readonly known?: (visitor: SimulatedVisitor) => 'looked' | 'reached' | null
  /** Of other goals of the round the true rates in a version; nobody reaches them for their own sake where nothing is said. */
  readonly others?: (version: VersionId) => readonly { readonly goal: GoalId; readonly rate: number }[]
  /** What somebody’s order is worth. */
  readonly worthOf?: (visitor: SimulatedVisitor) => number
  /** By the site’s own clock: rules and tests may ask for days and hours. */
  readonly momentOf?: (at: Date) => Moment
}

const usualWorth = ({ luck }: SimulatedVisitor) => 10 + (Math.round(luck * 1e6) % 60)

/** What one simulated visitor does in a test whose true rates are known: the events the site would have taken in. */
export function eventsOf(
  visitor: SimulatedVisitor,
  round: Round,
  crowd: number,
  rates: ReadonlyMap<VersionId, number>,
  besides: Besides = {},
): StampedEvent[] {
  const { segmentsOf = nobodyAsks, around, later: comesBack = () => 0, known = () => null } = besides
  const { mishapOf = () => 'none', dayOf = () => 0, others = () => [], worthOf = usualWorth } = besides
  if (visitor.who !== 'visitor') return []
  const moment = besides.momentOf?.(visitor.arrivesAt) ?? stranger.moment
  const who = { ...asVisitor(visitor), moment }
  const [decision] = decide({ draws: [drawOf(round, { paused: false })], ladders: [] }, who)
  const viewed = [...earlierVisit(visitor, crowd, round, known(visitor)), viewOf(visitor, crowd, round)]
  if (decision === undefined || !decision.counted) return viewed
  const { version } = decision
  const original = rates.get(ORIGINAL) ?? 0
  const mishap = mishapOf(version)
  const rate = rateOn(mishap, rates.get(version) ?? original, original, dayOf(visitor))
  const isLost = lotOf(visitor.id) >= seenShare(mishap)
  const shown = { round, version, segments: segmentsOf(who) }
  return [
    ...viewed,
    ...shownTo(visitor, crowd, shown).filter(({ kind }) => !isLost || kind !== 'seen'),
    ...wandering(visitor, crowd, round, around?.(version)),
    ...reachedBy({ ...visitor, ponders: visitor.ponders + comesBack(visitor) }, crowd, round, rate, worthOf),
    ...others(version).flatMap(({ goal, rate: share }) => {
      const of = lotFor(visitor.id, goal) < share ? round.goals.find(({ id }) => id === goal) : undefined
      return of === undefined ? [] : reachGoal(visitor, crowd, of, round.goals, pageOf(round), worthOf(visitor), ` of ${goal}`)
    }),
  ]
}

/** The rounds in which the rules of a part are counted, in their order, and that of all together where there is one. */
export interface RuledRounds {
  readonly ladder: Ladder
  readonly rules: readonly Round[]
  readonly together: Round | null
}

/**
 * The same where a part is shown by rule.
 *
 * @param also what else is known of the visitor, for the rules to ask
 * @param rate the true rate of whom a rule fits: of those who are held out, and of those who are shown its version
 */
export function ruledEventsOf(
  visitor: SimulatedVisitor,
  { ladder, rules, together }: RuledRounds,
  also: Partial<Visitor>,
  rate: (rule: number, isHeld: boolean) => number,
  segmentsOf: SegmentsOf = nobodyAsks,
): StampedEvent[] {
  const who = { ...asVisitor(visitor), ...also }
  const [decision] = decide({ draws: [], ladders: [ladder] }, who)
  const reason = decision?.reason
  const rule = reason?.code === 'heldOut' || reason?.code === 'ruleMatched' ? reason.rule : -1
  const round = rules[rule]
  if (decision === undefined || round === undefined) return []
  const { version } = decision
  const isHeld = version === ORIGINAL
  const segments = segmentsOf(who)
  const ofAll = { version: isHeld ? ORIGINAL : BY_RULE, segments }
  const all = together === null ? [] : shownTo(visitor, 0, { round: together, ...ofAll }, ' of all')
  return [
    viewOf(visitor, 0, round),
    ...shownTo(visitor, 0, { round, version, segments }),
    ...all,
    ...reachedBy(visitor, 0, round, rate(rule, isHeld)),
  ]
}

const EARLIER = 9 * 24 * 3_600_000

/** A visit some days before, with the goal that decides where they reached it then. */
function earlierVisit(
  visitor: SimulatedVisitor,
  crowd: number,
  round: Round,
  known: 'looked' | 'reached' | null,
): StampedEvent[] {
  if (known === null) return []
  const then = { ...visitor, arrivesAt: later(visitor, -EARLIER) }
  const primary = round.goals.find(({ id }) => id === round.design.primary)
  const reached =
    known === 'reached' && primary !== undefined
      ? reachGoal(then, crowd, primary, round.goals, pageOf(round), usualWorth(then), ' before')
      : []
  return [viewOf(then, crowd, round, ' before'), ...reached]
}

/** What they do besides, but for what the goal that decides counts: its rates are true as they are set. */
function wandering(visitor: SimulatedVisitor, crowd: number, round: Round, around: Surroundings | undefined): StampedEvent[] {
  if (around === undefined) return []
  const library = libraryOf(round.goals)
  const decides = round.goals.find(({ id }) => id === round.design.primary)
  return wanderings(visitor, around)
    .map(({ after, happening }, step) => made(visitor, crowd, later(visitor, after), `besides ${step}`, happening))
    .filter((event) => decides === undefined || !reaches(decides, event, library))
}

const pageOf = ({ pages, design }: Round): DocumentId => pages[0] ?? design.document

function viewOf(visitor: SimulatedVisitor, crowd: number, round: Round, what = ''): StampedEvent {
  const arrival = { source: sourceFrom(visitor.origin), device: visitor.device, region: visitor.home ?? homeOf(visitor.id) }
  return made(visitor, crowd, visitor.arrivesAt, `view${what}`, { kind: 'page', ...somewhere(pageOf(round)), arrival })
}

function shownTo(
  visitor: SimulatedVisitor,
  crowd: number,
  { round, version, segments }: { readonly round: Round; readonly version: VersionId; readonly segments: readonly string[] },
  what = '',
): StampedEvent[] {
  const shown = { round: round.id, version }
  return [
    made(visitor, crowd, visitor.arrivesAt, `assigned${what}`, {
      kind: 'assigned',
      ...shown,
      segments,
      document: pageOf(round),
    }),
    made(visitor, crowd, later(visitor, 2000), `seen${what}`, { kind: 'seen', ...shown }),
  ]
}

function reachedBy(
  visitor: SimulatedVisitor,
  crowd: number,
  round: Round,
  rate: number,
  worthOf: (visitor: SimulatedVisitor) => number = usualWorth,
): StampedEvent[] {
  const primary = round.goals.find(({ id }) => id === round.design.primary)
  const converts = primary !== undefined && visitor.luck < rate
  return converts ? reachGoal(visitor, crowd, primary, round.goals, pageOf(round), worthOf(visitor)) : []
}

function reachGoal(
  visitor: SimulatedVisitor,
  crowd: number,
  goal: Goal,
  goals: readonly Goal[],
  page: DocumentId,
  value: number,
  what = '',
): StampedEvent[] {
  const order = eventId(crowd, visitor.id, `order${what}`).slice(0, 12)
  return doing(goal, libraryOf(goals), { ...somewhere(page), order, value }).map((happening, step) =>
    made(visitor, crowd, later(visitor, visitor.ponders + step * 10_000), `goal ${step}${what}`, happening),
  )
}

/** Where rehearsals happen is not asked: their pages count in no statistics of the site. */
function somewhere(document: DocumentId) {
  return { document, path: '', pageType: '' }
}

function made(visitor: SimulatedVisitor, crowd: number, at: Date, what: string, happening: Happening): StampedEvent {
  return { id: eventId(crowd, visitor.id, what), crowd, visitor: visitor.id, at, ...happening }
}

/** The same visitor in the same rehearsal makes the same ids, so a rehearsal that was interrupted can begin again. */
function eventId(crowd: number, visitor: string, what: string): string {
  return eventIdOf(`${crowd} ${visitor} ${what}`)
}

function asVisitor({ id, device, origin, home, returns }: SimulatedVisitor): Visitor {
  const { host, utm } = origins[origin]
  return {
    ...{ ...stranger, id, device, region: home ?? homeOf(id), visits: returns ? 2 : 1 },
    beginning: { source: sourceFrom(origin), utm: { ...noUtm, source: utm }, referrer: host },
  }
}

function later(visitor: SimulatedVisitor, milliseconds: number): Date {
  return new Date(visitor.arrivesAt.getTime() + milliseconds)
}
