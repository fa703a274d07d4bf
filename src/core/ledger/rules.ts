import type { Keeping } from '../decide'
import { libraryOf, type Goal, type Library } from '../goals'
import type { DocumentId, GoalId, NodeId, RoundId, VersionId } from '../ids'

/** What holds for the whole site from a moment on, until the next of its kind. */
export interface SiteRules {
  readonly since: Date
  dayOf(at: Date): string
  readonly bounceSeconds: number
  /** The goals that count. */
  readonly goals: readonly Goal[]
  readonly library: Library
}

/** From and to belong to it; `null`: still going on. */
export interface Span {
  readonly from: Date
  readonly to: Date | null
}

/** A round as far as counting goes. */
export interface CountedRound {
  readonly id: RoundId
  readonly versions: readonly VersionId[]
  /** What is counted: visitors, visits or views. */
  readonly keeping: Keeping
  /** The goals that are counted, and which of them decides. */
  readonly goals: readonly Goal[]
  readonly primary: GoalId | null
  /** These, and the goals that they are made of. */
  readonly library: Library
  /** The parts that it varies: a press on one, or on something in it, is exposure. */
  readonly parts: ReadonlySet<NodeId>
  /** When it was running: not while it was paused. */
  readonly open: readonly Span[]
  /** When its weights were changed: each begins an epoch after the first. Oldest first. */
  readonly reweighed: readonly Date[]
}

/** All that counting goes by. Each holds by the time at which something happened, however late that is heard of. */
export interface Rules {
  /** Oldest first, at least one; the first holds for all that was before it. */
  readonly site: readonly SiteRules[]
  readonly rounds: ReadonlyMap<RoundId, CountedRound>
  /** Calls to action by their roots. */
  readonly calls: ReadonlyMap<NodeId, DocumentId>
}

export function rulesAt(site: readonly SiteRules[], at: Date): SiteRules {
  let [holding] = site
  if (holding === undefined) throw new Error('there are no rules to count by')
  // As numbers: dates that are held against each other are turned into them by a detour, and this is done for every event.
  const moment = at.getTime()
  for (const rules of site) if (rules.since.getTime() <= moment) holding = rules
  return holding
}

export function isOpen(round: CountedRound, at: Date): boolean {
  const moment = at.getTime()
  return round.open.some(({ from, to }) => moment >= from.getTime() && (to === null || moment <= to.getTime()))
}

/** The stretch of constant weights, from one, in which a moment lies. */
export function epochAt({ reweighed }: CountedRound, at: Date): number {
  return 1 + reweighed.filter((begin) => begin.getTime() <= at.getTime()).length
}

/** A round with its goals, and those that they are made of, at hand by their ids. */
export function countedRound(
  round: Omit<CountedRound, 'library' | 'parts' | 'reweighed' | 'keeping' | 'primary'> & {
    readonly primary?: GoalId | null
    readonly keeping?: Keeping
    readonly parts?: Iterable<NodeId>
    readonly goalParts?: readonly Goal[]
    readonly reweighed?: readonly Date[]
  },
): CountedRound {
  const { goalParts = [], parts = [], reweighed = [], keeping = 'browser', primary = null, ...rest } = round
  return { ...rest, keeping, primary, reweighed, parts: new Set(parts), library: libraryOf([...goalParts, ...round.goals]) }
}
