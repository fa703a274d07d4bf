import { keptAsOf, unitFor, type Unit, type Visitor } from '@/core/decide'
import type { DocumentId, RoundId, VersionId } from '@/core/ids'
import type { CompiledPage } from '../compile/compile'
import type { Given, Hand } from './hands'
import type { Recognised } from './recognise'

export interface Assignment {
  readonly round: RoundId
  readonly version: VersionId
  /** Of this version in this round. */
  readonly number: number
  /** To whom it was given, where that is not the visitor but one of their visits, or one view. */
  readonly unit?: Unit
}

/** What one view of a page brings that nobody had written down, and no browser kept. */
export interface News {
  readonly visitor: string
  readonly unit: Unit
  readonly assignments: readonly Assignment[]
  /** Which segments fit the visitor, as it is written down with those. */
  readonly segments: readonly string[]
  /** On which page it was. */
  readonly document: DocumentId | null
  /** All that lasts, where the browser does not keep it as it is. */
  readonly toKeep: readonly Given[]
  /** The number of all that was given on this page, as one: whoever comes back to it is looked up once. */
  readonly together: number | null
}

const NONE: readonly never[] = []
export const NO_NEWS: News = {
  visitor: '',
  unit: { high: 0, low: 0 },
  assignments: NONE,
  document: null,
  segments: NONE,
  toKeep: NONE,
  together: null,
}

interface Notes {
  readonly areKept?: boolean
  readonly isNoted?: ((number: number, unit: Unit) => boolean) | undefined
  readonly segmentsOf?: ((visitor: Visitor) => readonly string[]) | undefined
}

/**
 * @param areKept whether the browser is known to have all that lasts
 * @param isNoted whether it is written down already
 * @param segmentsOf asked only where something has to be written down
 */
export function newsOf(
  { byVisits, document }: CompiledPage,
  { visitor, isNew }: Recognised,
  { given, lasting, number }: Hand,
  unit: Unit,
  { areKept = false, isNoted = () => false, segmentsOf = () => NONE }: Notes = {},
): News {
  const hasAll = areKept || keeps(visitor, lasting)
  if (hasAll && !byVisits && !isNew && (given.length === 0 || isNoted(number, unit))) return NO_NEWS
  const all: readonly Assignment[] = byVisits
    ? given.map((one) => ({ ...one, unit: one.draw === null ? unit : unitFor(one.draw, visitor, unit) }))
    : given
  // Whoever is new cannot have been written down, whatever a number says that is by chance the same.
  const assignments = isNew ? all : all.filter((one) => !isNoted(one.number, one.unit ?? unit))
  // Written out, one by one: this is made for every view of somebody new.
  return {
    visitor: visitor.id ?? '',
    unit,
    assignments,
    document,
    segments: assignments.length === 0 ? NONE : segmentsOf(visitor),
    toKeep: hasAll ? NONE : lasting,
    together: byVisits || given.length === 0 ? null : number,
  }
}

/** Whether the browser has all that lasts. */
function keeps({ kept }: Visitor, lasting: readonly Given[]): boolean {
  if (kept.size === 0) return lasting.length === 0
  for (const { draw, version } of lasting) if (draw !== null && kept.get(keptAsOf(draw)) !== version) return false
  return true
}
