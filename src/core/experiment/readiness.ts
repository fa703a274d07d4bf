import { ORIGINAL, WHOLE } from '../decide'
import { apply, nodeAt, type ContentDocument, type Edit, type Refusal } from '../document'
import { libraryOf, type Goal } from '../goals'
import type { DocumentId, TestId, VersionId } from '../ids'
import { goalsOf, levelsOf, partsOf, type Design, type Part, type Version } from './design'
import type { Forecast } from './forecast'
import { unreachable, type Unreachable } from './reachable'

export interface ReadinessFacts {
  readonly design: Design
  readonly versions: readonly Version[]
  readonly goals: readonly Goal[]
  /** The published body of each published document. */
  readonly published: ReadonlyMap<DocumentId, ContentDocument>
  /** On how many published pages each document that is no page is shown. */
  readonly places: ReadonlyMap<DocumentId, number>
  /** Tests that are running or paused, this one left out. */
  readonly others: readonly {
    readonly test: TestId
    readonly name: string
    readonly touches: readonly Part[]
  }[]
  /** Whether scripts may run on the site, and which versions bring one. */
  readonly scripts: { readonly allowed: boolean; readonly versions: readonly VersionId[] }
  readonly forecast: Forecast | null
}

/** What was found, by code and subject; the sentence and the step that settles it are made where it is read. */
export type Finding =
  | { readonly code: 'noVariant' }
  | { readonly code: 'variantSame'; readonly version: VersionId }
  | { readonly code: 'editUnfit'; readonly version: VersionId; readonly edit: Edit; readonly refusal: Refusal }
  | { readonly code: 'partUnpublished'; readonly document: DocumentId; readonly pagePublished: boolean }
  | { readonly code: 'partNowhere'; readonly document: DocumentId }
  | { readonly code: 'routeGone'; readonly version: VersionId }
  | { readonly code: 'routeLoops'; readonly version: VersionId; readonly document: DocumentId }
  | { readonly code: 'scriptsOff'; readonly version: VersionId }
  | { readonly code: 'hasScript'; readonly version: VersionId }
  | { readonly code: 'leadsElsewhere'; readonly version: VersionId }
  | { readonly code: 'noGoal' }
  | Unreachable
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

export const checks = [
  'variants',
  'part',
  'route',
  'goal',
  'split',
  'overlap',
  'script',
  'difference',
  'destination',
  'question',
  'time',
] as const
export type Check = (typeof checks)[number]

const blocking: { readonly [Of in Check]?: (facts: ReadinessFacts) => Finding[] } = {
  variants: variantsDiffer,
  part: partIsPublished,
  route: routeLeadsOn,
  goal: goalIsReachable,
  split: splitAddsUp,
  overlap: noOtherTest,
  script: ({ scripts }) => (scripts.allowed ? [] : scripts.versions.map((version): Finding => ({ code: 'scriptsOff', version }))),
}

const advising: { readonly [Of in Check]?: (facts: ReadinessFacts) => Finding[] } = {
  script: ({ scripts }) => (scripts.allowed ? scripts.versions.map((version): Finding => ({ code: 'hasScript', version })) : []),
  goal: othersReachable,
  difference: oneKindOfDifference,
  destination: sameDestination,
  question: ({ design }) => (design.problem.trim() === '' || design.change.trim() === '' ? [{ code: 'noQuestion' }] : []),
  time: ({ forecast }) =>
    forecast === null || (forecast.days !== null && forecast.days <= 56) ? [] : [{ code: 'takesLong', days: forecast.days }],
}

/** Everything that commonly goes wrong with a test before it starts. */
export function readiness(facts: ReadinessFacts): Readiness {
  const found = checks.map((check) => ({
    check,
    blocks: blocking[check]?.(facts) ?? [],
    advises: advising[check]?.(facts) ?? [],
  }))
  return {
    blocks: found.flatMap(({ blocks }) => blocks),
    advises: found.flatMap(({ advises }) => advises),
    passed: found.filter(({ blocks, advises }) => blocks.length + advises.length === 0).map(({ check }) => check),
  }
}

/** The versions that some arm shows, each with the document its edits are for. */
function variantsOf({ design, versions }: ReadinessFacts): { version: Version; document: DocumentId }[] {
  return partsOf(design).flatMap(({ document }, part) => {
    const shown = new Set(design.arms.map((arm) => levelsOf(design, arm.version)[part]))
    return versions.filter(({ id }) => id !== ORIGINAL && shown.has(id)).map((version) => ({ version, document }))
  })
}

function variantsDiffer(facts: ReadinessFacts): Finding[] {
  const variants = variantsOf(facts)
  if (variants.length === 0) return [{ code: 'noVariant' }]
  return variants.flatMap(({ version: { id: version, edits }, document: home }): Finding[] => {
    if (edits.length === 0) return [{ code: 'variantSame', version }]
    const original = facts.published.get(home)
    if (original === undefined) return []
    const { document, refused } = apply(original, edits)
    if (refused.length > 0) return refused.map((fault) => ({ code: 'editUnfit', version, ...fault }))
    return JSON.stringify(document) === JSON.stringify(original) ? [{ code: 'variantSame', version }] : []
  })
}

function partIsPublished({ design, published, places }: ReadinessFacts): Finding[] {
  return partsOf(design).flatMap(({ document, node }): Finding[] => {
    const home = published.get(document)
    if (home?.nodes[node] === undefined) return [{ code: 'partUnpublished', document, pagePublished: home !== undefined }]
    return home.kind === 'page' || (places.get(document) ?? 0) > 0 ? [] : [{ code: 'partNowhere', document }]
  })
}

/** A variant that sends visitors to another page: the page is there, and does not send them on or back. */
function routeLeadsOn(facts: ReadinessFacts): Finding[] {
  return variantsOf(facts).flatMap(({ version: { id: version, edits }, document }): Finding[] => {
    const home = facts.published.get(document)
    if (home === undefined) return []
    const target = routeOf(apply(home, edits).document)
    if (target === null) return []
    const other = facts.published.get(target)
    if (other === undefined) return [{ code: 'routeGone', version }]
    return target === document || routeOf(other) !== null ? [{ code: 'routeLoops', version, document: target }] : []
  })
}

/** The page that a page sends its visitors to; `null` where it shows itself. */
export function routeOf(page: ContentDocument): DocumentId | null {
  const { route } = nodeAt(page, page.root).props
  const to = typeof route === 'string' ? /^page:([a-z0-9-]+)/.exec(route)?.[1] : undefined
  return to === undefined ? null : (to as DocumentId)
}

/**
 * The pages on the way, where visitors of one could be sent on and on and come back.
 *
 * @param next where each page sends its visitors: by itself, in a version of a test, or for some of them
 */
export function routeCircle(start: DocumentId, next: (page: DocumentId) => readonly DocumentId[]): DocumentId[] | null {
  const done = new Set<DocumentId>()
  const follow = (page: DocumentId, way: readonly DocumentId[]): DocumentId[] | null => {
    if (way.includes(page)) return [...way.slice(way.indexOf(page)), page]
    if (done.has(page)) return null
    for (const to of next(page)) {
      const circle = follow(to, [...way, page])
      if (circle !== null) return circle
    }
    done.add(page)
    return null
  }
  return follow(start, [])
}

function goalIsReachable(facts: ReadinessFacts): Finding[] {
  const library = libraryOf(facts.goals)
  const goal = facts.design.primary === null ? undefined : library.get(facts.design.primary)
  return goal === undefined ? [{ code: 'noGoal' }] : unreachable(goal, { ...facts, library })
}

/** A goal that is watched or guards, and could never be reached, says nothing. */
function othersReachable(facts: ReadinessFacts): Finding[] {
  const library = libraryOf(facts.goals)
  return goalsOf(facts.design)
    .filter((id) => id !== facts.design.primary)
    .flatMap((id) => {
      const goal = library.get(id)
      return goal === undefined ? [] : unreachable(goal, { ...facts, library }).slice(0, 1)
    })
}

function splitAddsUp({ design }: ReadinessFacts): Finding[] {
  const total = design.arms.reduce((sum, { weight }) => sum + weight, 0)
  const zero = design.arms.filter(({ weight }) => weight === 0).map(({ version }): Finding => ({ code: 'weightZero', version }))
  const off: Finding[] = total === WHOLE ? [] : [{ code: 'weightsOff', total }]
  return [...off, ...zero, ...(design.share === 0 ? [{ code: 'shareZero' } as const] : [])]
}

function noOtherTest(facts: ReadinessFacts): Finding[] {
  const key = ({ document, node }: Part) => `${document} ${node}`
  const touched = new Set(touches(facts.design, facts.versions).map(key))
  return facts.others
    .filter(({ touches: theirs }) => theirs.some((part) => touched.has(key(part))))
    .map(({ test, name }): Finding => ({ code: 'testMeetsTest', test, name }))
}

/** The components that a test lays hands on. */
export function touches(design: Design, versions: readonly Version[]): Part[] {
  return partsOf(design).flatMap((part, index) => {
    const shown = new Set(design.arms.map(({ version }) => levelsOf(design, version)[index]))
    const edited = versions.filter(({ id }) => shown.has(id)).flatMap(({ edits }) => edits)
    return [part, ...edited.map((edit) => ({ document: part.document, node: edit.kind === 'insert' ? edit.parent : edit.node }))]
  })
}

function oneKindOfDifference(facts: ReadinessFacts): Finding[] {
  return variantsOf(facts).flatMap(({ version: { id: version, edits } }): Finding[] => {
    const kinds = kindsOfDifference(edits)
    return kinds > 1 ? [{ code: 'severalKinds', version, kinds }] : []
  })
}

/** Several edits of one kind to one place, such as three new items in a menu, are one kind of difference. */
function kindsOfDifference(edits: readonly Edit[]): number {
  return new Set(edits.map((edit) => (edit.kind === 'set' ? `${edit.node}.${edit.prop}` : edit.kind))).size
}

/** A variant that leads to another page than the original measures two things at once. */
function sameDestination(facts: ReadinessFacts): Finding[] {
  return variantsOf(facts)
    .filter(({ version: { edits } }) => edits.length > 1 && edits.some((edit) => edit.kind === 'set' && edit.prop === 'link'))
    .map(({ version: { id: version } }): Finding => ({ code: 'leadsElsewhere', version }))
}
