import { ORIGINAL, unitOf, type Decision, type Draw, type Unit, type Visitor } from '@/core/decide'
import { BY_RULE } from '@/core/experiment'
import type { DocumentId, RoundId, TestId, VersionId } from '@/core/ids'
import type { CompiledPage } from '../compile/compile'
import type { Recognised } from './recognise'

/** A version that somebody takes part with. */
export interface Given {
  readonly draw: Draw
  readonly version: VersionId
  /** Of this version in this round. */
  readonly number: number
}

export interface Assignment {
  readonly visitor: string
  readonly round: RoundId
  readonly version: VersionId
  readonly note: Note
}

/** Of what is written down once: what was given, and to whom: a visitor, one of their visits, or one view. */
export interface Note {
  readonly number: number
  readonly unit: Unit
}

/** What one view of a page brings that nobody had written down, and no browser kept. */
export interface News {
  readonly assignments: readonly Assignment[]
  /** Which segments fit the visitor, as it is written down with those. */
  readonly segments: readonly string[]
  /** On which page it was. */
  readonly document: DocumentId | null
  /** All that lasts, where the browser does not keep it as it is. */
  readonly toKeep: readonly Given[]
  /** All that was given on this page, as one: whoever comes back to it is looked up once. */
  readonly together: Note | null
}

const NONE: readonly string[] = []
export const NO_NEWS: News = { assignments: [], segments: NONE, document: null, toKeep: [], together: null }

export const keptAsOf = ({ test, keptAs = test }: Draw): TestId => keptAs

interface Notes {
  readonly isNoted?: ((number: number, unit: Unit) => boolean) | undefined
  readonly segmentsOf?: ((visitor: Visitor) => readonly string[]) | undefined
}

/**
 * @param decisions those of the page’s rules, then those of its draws, in their order
 * @param isNoted whether it is written down already
 * @param segmentsOf asked only where something has to be written down
 */
export function newsOf(
  page: CompiledPage,
  who: Recognised,
  decisions: readonly Decision[],
  unit: Unit,
  { isNoted = () => false, segmentsOf = () => NONE }: Notes = {},
): News {
  const { visitor, isNew } = who
  const number = page.byVisits ? null : numberTogether(page, who, decisions)
  const hasAll = isKept(page, who, decisions)
  if (hasAll && number !== null && !isNew && isNoted(number, unit)) return NO_NEWS
  const given = givenOn(page, who, decisions)
  const assignments: Assignment[] = []
  const assign = (round: RoundId, version: VersionId, note: Note) => {
    if (isNew || !isNoted(note.number, note.unit)) assignments.push({ visitor: visitor.id ?? '', round, version, note })
  }
  for (const { draw, version, number: mine } of given)
    assign(draw.round, version, { number: mine, unit: unitFor(draw, visitor, unit) })
  const ruled = byRuleOn(page, decisions)
  for (const { round, version, number: mine } of ruled) assign(round, version, { number: mine, unit })
  return {
    assignments,
    segments: assignments.length === 0 ? NONE : segmentsOf(visitor),
    document: page.document,
    toKeep: hasAll ? [] : given.filter(({ draw }) => draw.keeping !== 'view'),
    together: number === null || given.length + ruled.length === 0 ? null : { number, unit },
  }
}

interface Ruled {
  readonly round: RoundId
  readonly version: VersionId
  readonly number: number
}

/** What rules that are counted gave: the rule, and where there is more than one all of them together. */
function byRuleOn({ gains }: CompiledPage, decisions: readonly Decision[]): Ruled[] {
  const found: Ruled[] = []
  for (const [at, gain] of gains.entries()) {
    const decision = decisions[at]
    const rule = gain === null || decision?.counted !== true ? undefined : gain.rules[ruleOf(decision)]
    if (gain === null || decision === undefined || rule === undefined) continue
    const isHeld = decision.reason.code === 'heldOut'
    found.push({ round: rule.round, version: decision.version, number: (rule.number + (isHeld ? 0 : 1)) >>> 0 })
    const { together } = gain
    if (together !== null)
      found.push({
        round: together.round,
        version: isHeld ? ORIGINAL : BY_RULE,
        number: (together.number + (isHeld ? 0 : 1)) >>> 0,
      })
  }
  return found
}

/** The place of the rule that fits; −1 where none does. */
function ruleOf({ reason }: Decision): number {
  return reason.code === 'ruleMatched' || reason.code === 'heldOut' ? reason.rule : -1
}

/** Whether this draw counts, for somebody to whom no newsletter brought its version. */
function counts(draw: Draw, decision: Decision | undefined, { carried }: Recognised): decision is Decision {
  return decision?.counted === true && (carried.size === 0 || !carried.has(keptAsOf(draw)))
}

function numberTogether(page: CompiledPage, who: Recognised, decisions: readonly Decision[]): number {
  const { draws, ladders, gains, roundNumbers } = page
  let number = 0
  for (const [at, gain] of gains.entries()) {
    const decision = decisions[at]
    if (gain === null || decision?.counted !== true) continue
    const { number: own = 0 } = gain.rules[ruleOf(decision)] ?? {}
    number = Math.imul(number ^ (own + (decision.reason.code === 'heldOut' ? 0 : 1)), 0x9e3779b1)
  }
  for (const [at, draw] of draws.entries()) {
    const decision = decisions[ladders.length + at]
    if (counts(draw, decision, who))
      number = Math.imul(number ^ ((roundNumbers[at] ?? 0) + armOf(draw, decision.version)), 0x9e3779b1)
  }
  return number >>> 0
}

/** Whether the browser has all that lasts. */
function isKept({ draws, ladders }: CompiledPage, who: Recognised, decisions: readonly Decision[]): boolean {
  for (const [at, draw] of draws.entries()) {
    const decision = decisions[ladders.length + at]
    if (draw.keeping === 'view' || !counts(draw, decision, who)) continue
    if (who.visitor.kept.get(keptAsOf(draw)) !== decision.version) return false
  }
  return true
}

function givenOn({ draws, ladders, roundNumbers }: CompiledPage, who: Recognised, decisions: readonly Decision[]): Given[] {
  const given: Given[] = []
  for (const [at, draw] of draws.entries()) {
    const decision = decisions[ladders.length + at]
    if (!counts(draw, decision, who)) continue
    const { version } = decision
    given.push({ draw, version, number: ((roundNumbers[at] ?? 0) + armOf(draw, version)) >>> 0 })
  }
  return given
}

function armOf({ arms }: Draw, version: VersionId): number {
  for (let at = 0; at < arms.length; at++) if (arms[at]?.version === version) return at
  return -1
}

function unitFor({ keeping }: Draw, { id, visit, view }: Recognised['visitor'], unit: Unit): Unit {
  if (keeping === undefined) return unit
  return unitOf(keeping === 'visit' ? `${id} ${visit}` : `${id} ${visit} ${view}`)
}
