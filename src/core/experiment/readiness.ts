import { ORIGINAL, WHOLE } from '../decide'
import { apply, walk, type ContentDocument, type Edit, type Refusal } from '../document'
import type { Goal } from '../goals'
import type { DocumentId, GoalId, NodeId, TestId, VersionId } from '../ids'
import type { Design, Version } from './design'
import type { Forecast } from './forecast'

export interface ReadinessFacts {
  readonly design: Design
  readonly versions: readonly Version[]
  readonly goals: readonly Goal[]
  /** The published body of each published document. */
  readonly published: ReadonlyMap<DocumentId, ContentDocument>
  /** Tests that are running or paused, this one left out. */
  readonly others: readonly {
    readonly test: TestId
    readonly name: string
    readonly document: DocumentId
    readonly touches: readonly NodeId[]
  }[]
  readonly forecast: Forecast | null
}

/** What was found, by code and subject; the sentence and the step that settles it are made where it is read. */
export type Finding =
  | { readonly code: 'noVariant' }
  | { readonly code: 'variantSame'; readonly version: VersionId }
  | { readonly code: 'editUnfit'; readonly version: VersionId; readonly edit: Edit; readonly refusal: Refusal }
  | { readonly code: 'partUnpublished'; readonly document: DocumentId; readonly pagePublished: boolean }
  | { readonly code: 'noGoal' }
  | { readonly code: 'goalUnpublished'; readonly goal: GoalId; readonly document: DocumentId }
  | { readonly code: 'goalGone'; readonly goal: GoalId; readonly version: VersionId }
  | { readonly code: 'weightsOff'; readonly total: number }
  | { readonly code: 'weightZero'; readonly version: VersionId }
  | { readonly code: 'shareZero' }
  | { readonly code: 'testMeetsTest'; readonly test: TestId; readonly name: string }
  | { readonly code: 'severalKinds'; readonly version: VersionId; readonly kinds: number }
  | { readonly code: 'noQuestion' }
  | { readonly code: 'takesLong'; readonly days: number | null }

export interface Readiness {
  /** Each of these must be settled before a start. */
  readonly blocks: readonly Finding[]
  /** Each of these may be left, at a price. */
  readonly advises: readonly Finding[]
  /** What was looked at and found in order. */
  readonly passed: readonly Check[]
}

export const checks = ['variants', 'part', 'goal', 'split', 'overlap', 'difference', 'question', 'time'] as const
export type Check = (typeof checks)[number]

const blocking: { readonly [Of in Check]?: (facts: ReadinessFacts) => Finding[] } = {
  variants: variantsDiffer,
  part: partIsPublished,
  goal: goalIsReachable,
  split: splitAddsUp,
  overlap: noOtherTest,
}

const advising: { readonly [Of in Check]?: (facts: ReadinessFacts) => Finding[] } = {
  difference: oneKindOfDifference,
  question: ({ design }) => (design.problem.trim() === '' || design.change.trim() === '' ? [{ code: 'noQuestion' }] : []),
  time: ({ forecast }) =>
    forecast === null || (forecast.days !== null && forecast.days <= 56) ? [] : [{ code: 'takesLong', days: forecast.days }],
}

/** Everything that commonly goes wrong with a test before it starts. */
export function readiness(facts: ReadinessFacts): Readiness {
  const found = (of: typeof blocking) => checks.map((check) => [check, of[check]?.(facts) ?? null] as const)
  const all = [...found(blocking), ...found(advising)]
  return {
    blocks: found(blocking).flatMap(([, findings]) => findings ?? []),
    advises: found(advising).flatMap(([, findings]) => findings ?? []),
    passed: all.filter(([, findings]) => findings?.length === 0).map(([check]) => check),
  }
}

function variantsOf({ design, versions }: ReadinessFacts): Version[] {
  const ids = design.arms.map(({ version }) => version).filter((version) => version !== ORIGINAL)
  return ids.flatMap((id) => versions.find((version) => version.id === id) ?? [])
}

function variantsDiffer(facts: ReadinessFacts): Finding[] {
  const variants = variantsOf(facts)
  if (variants.length === 0) return [{ code: 'noVariant' }]
  const original = facts.published.get(facts.design.document)
  return variants.flatMap(({ id: version, edits }): Finding[] => {
    if (edits.length === 0) return [{ code: 'variantSame', version }]
    if (original === undefined) return []
    const { document, refused } = apply(original, edits)
    if (refused.length > 0) return refused.map((fault) => ({ code: 'editUnfit', version, ...fault }))
    return JSON.stringify(document) === JSON.stringify(original) ? [{ code: 'variantSame', version }] : []
  })
}

function partIsPublished({ design, published }: ReadinessFacts): Finding[] {
  const page = published.get(design.document)
  if (page?.nodes[design.node] !== undefined) return []
  return [{ code: 'partUnpublished', document: design.document, pagePublished: page !== undefined }]
}

/** From every version: a component that is pressed must be there, a page that is shown must be published. */
function goalIsReachable(facts: ReadinessFacts): Finding[] {
  const { design, goals, published } = facts
  const goal = goals.find(({ id }) => id === design.primary)
  if (goal === undefined) return [{ code: 'noGoal' }]
  const page = published.get(goal.wiring.document)
  if (page === undefined) return [{ code: 'goalUnpublished', goal: goal.id, document: goal.wiring.document }]
  if (goal.wiring.kind === 'page') return []
  const { node } = goal.wiring
  if (goal.wiring.document !== design.document)
    return page.nodes[node] === undefined ? [{ code: 'goalGone', goal: goal.id, version: ORIGINAL }] : []
  const versions: Version[] = [{ id: ORIGINAL, name: '', edits: [] }, ...variantsOf(facts)]
  return versions
    .filter(({ edits }) => !walk(apply(page, edits).document).includes(node))
    .map(({ id: version }): Finding => ({ code: 'goalGone', goal: goal.id, version }))
}

function splitAddsUp({ design }: ReadinessFacts): Finding[] {
  const total = design.arms.reduce((sum, { weight }) => sum + weight, 0)
  const zero = design.arms.filter(({ weight }) => weight === 0).map(({ version }): Finding => ({ code: 'weightZero', version }))
  const off: Finding[] = total === WHOLE ? [] : [{ code: 'weightsOff', total }]
  return [...off, ...zero, ...(design.share === 0 ? [{ code: 'shareZero' } as const] : [])]
}

function noOtherTest(facts: ReadinessFacts): Finding[] {
  const touched = new Set(touches(facts.design.node, facts.versions))
  return facts.others
    .filter(({ document, touches: theirs }) => document === facts.design.document && theirs.some((node) => touched.has(node)))
    .map(({ test, name }): Finding => ({ code: 'testMeetsTest', test, name }))
}

/** The components that a test on this part lays hands on. */
export function touches(part: NodeId, versions: readonly Version[]): NodeId[] {
  return [part, ...versions.flatMap(({ edits }) => edits.map((edit) => (edit.kind === 'insert' ? edit.parent : edit.node)))]
}

function oneKindOfDifference(facts: ReadinessFacts): Finding[] {
  return variantsOf(facts).flatMap(({ id: version, edits }): Finding[] => {
    const kinds = new Set(edits.map((edit) => (edit.kind === 'set' ? `${edit.node}.${edit.prop}` : edit.kind))).size
    return kinds > 1 ? [{ code: 'severalKinds', version, kinds }] : []
  })
}
