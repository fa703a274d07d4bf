import { ORIGINAL, WHOLE } from '../decide'
import { apply, handsOn, nodeAt, placeOf, type ContentDocument, type Edit, type Refusal } from '../document'
import { libraryOf, type Goal } from '../goals'
import type { DocumentId, TestId, VersionId } from '../ids'
import { changesOf, goalsOf, levelsOf, partsOf, type Design, type Part, type Version } from './design'
import type { Forecast } from './forecast'
import { unreachable, type Unreachable } from './reachable'
import { blankPages, deadLinks, newAddresses, type Shown } from './shown'

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
  /** What visitors get, read from the compiled pages: the test's own and those that its goals count on. */
  readonly shown: Shown
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
  | { readonly code: 'addressChanged'; readonly version: VersionId }
  | { readonly code: 'notLooked'; readonly fault: string }
  | { readonly code: 'pageBlank'; readonly version: VersionId; readonly document: DocumentId }
  | { readonly code: 'linkDead'; readonly version: VersionId; readonly document: DocumentId; readonly words: string }
  | {
      readonly code: 'leadsElsewhere'
      readonly version: VersionId
      readonly address: string
      /** Where it leads is all that differs. */
      readonly alone: boolean
    }
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
  'page',
  'links',
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
  page: pageIsThere,
  links: (facts) => linksLeadOn(facts, true),
  goal: goalIsReachable,
  split: splitAddsUp,
  overlap: noOtherTest,
  script: ({ scripts }) => (scripts.allowed ? [] : scripts.versions.map((version): Finding => ({ code: 'scriptsOff', version }))),
}

const advising: { readonly [Of in Check]?: (facts: ReadinessFacts) => Finding[] } = {
  script: ({ scripts }) => (scripts.allowed ? scripts.versions.map((version): Finding => ({ code: 'hasScript', version })) : []),
  links: (facts) => linksLeadOn(facts, false),
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

/** Two that change the same thing, or of which one takes away in some version what the other varies. */
function noOtherTest(facts: ReadinessFacts): Finding[] {
  const key = ({ document, node }: Part) => `${document} ${node}`
  const touched = new Set(touches(facts.design, facts.versions, facts.published).map(key))
  const hidden = new Set(facts.shown.hides)
  return facts.others
    .filter(({ test, touches: theirs }) => hidden.has(test) || theirs.some((part) => touched.has(key(part))))
    .map(({ test, name }): Finding => ({ code: 'testMeetsTest', test, name }))
}

/** The components that a test lays hands on: with what is taken away, moved or made another, goes all that is in it. */
export function touches(
  design: Design,
  versions: readonly Version[],
  published: ReadonlyMap<DocumentId, ContentDocument>,
): Part[] {
  return partsOf(design).flatMap((part, index) => {
    const { document } = part
    const home = published.get(document)
    const shown = new Set(design.arms.map(({ version }) => levelsOf(design, version)[index]))
    const edited = versions.filter(({ id }) => shown.has(id)).flatMap(({ edits }) => edits)
    return [
      part,
      ...edited
        .flatMap((edit) => (home === undefined ? [placeOf(edit)] : handsOn(home, edit)))
        .map((node) => ({ document, node })),
    ]
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

/** A variant that leads to another page than the original measures two things at once, or just that. */
function sameDestination(facts: ReadinessFacts): Finding[] {
  return facts.design.arms
    .map(({ version }) => version)
    .filter((version) => version !== ORIGINAL)
    .flatMap((version): Finding[] => {
      const [address] = newAddresses(facts.shown, version, ORIGINAL)
      if (address === undefined) return []
      const edits = changesOf(facts.design, facts.versions, version).flatMap(({ edits: of }) => of)
      return [{ code: 'leadsElsewhere', version, address, alone: kindsOfDifference(edits) === 1 }]
    })
}

/** The page stays where it is, and shows something. */
function pageIsThere(facts: ReadinessFacts): Finding[] {
  const moved = variantsOf(facts).filter(
    ({ version, document }) =>
      facts.published.get(document)?.kind === 'page' &&
      version.edits.some(
        (edit) => edit.kind === 'set' && edit.prop === 'path' && edit.node === facts.published.get(document)?.root,
      ),
  )
  const { fault } = facts.shown
  return [
    ...(fault === null ? [] : [{ code: 'notLooked', fault } as const]),
    ...moved.map(({ version }): Finding => ({ code: 'addressChanged', version: version.id })),
    ...blankPages(facts.shown).map(({ page, version }): Finding => ({ code: 'pageBlank', version, document: page })),
  ]
}

/** What leads nowhere in a variant is in the way; what did so before is the original's own matter. */
function linksLeadOn({ shown }: ReadinessFacts, worse: boolean): Finding[] {
  return deadLinks(shown, ORIGINAL)
    .filter((link) => link.worse === worse)
    .map(({ shown: { version, page }, link }): Finding => ({ code: 'linkDead', version, document: page, words: link.words }))
}
