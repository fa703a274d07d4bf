import { isSameData } from '@/core/same-data'
import type { ArchiveFate, ArchiveReport } from '@/contract/contract'
import type { Segment } from '@/core/decide'
import type { ContentDocument } from '@/core/document'
import { partsOf, type Design, type Status } from '@/core/experiment'
import type { Goal } from '@/core/goals'
import type { DocumentId } from '@/core/ids'
import { titleOf } from '@/components/references'
import { archivedSettingsSchema, type ArchivedSite } from './archived-site'

type Lists = { [Kind in keyof ArchivedSite]: ArchivedSite[Kind] extends readonly unknown[] ? Kind : never }[keyof ArchivedSite]
type Archived<Kind extends Lists> = ArchivedSite[Kind][number]
export type ArchivedSettings = NonNullable<ArchivedSite['settings']>

/** What is here already of what an archive has. */
export interface Here {
  readonly documents: ReadonlyMap<string, DocumentHere>
  /** Titles by address, of the pages that are not in the archive. */
  readonly addresses: ReadonlyMap<string, string>
  /** Names of running tests that would be touched by publishing what the archive has of a document. */
  readonly restingOn: ReadonlyMap<string, readonly string[]>
  readonly tests: readonly TestHere[]
  readonly versions: ReadonlyMap<string, VersionHere>
  readonly segments: readonly Segment[]
  readonly goals: ReadonlyMap<string, Goal>
  readonly campaigns: ReadonlySet<string>
  readonly media: ReadonlySet<string>
  /** `null` where nobody has decided anything yet. */
  readonly settings: ArchivedSettings | null
  readonly rules: ReadonlyMap<string, Archived<'rules'>>
  readonly plans: ReadonlyMap<string, Archived<'plans'>['plan']>
  readonly redirects: ReadonlyMap<string, string>
  readonly history: readonly HistoryHere[]
  /** Of all tests, whatever has become of them. */
  readonly numbers: ReadonlySet<number>
  readonly takenOff: ReadonlySet<string>
  /** The page that a site begins with, where it still is as it was. */
  readonly untouched: DocumentId | null
}

interface HistoryHere {
  readonly number: number
  readonly name: string
  readonly at: string
}

interface DocumentHere {
  readonly draft: ContentDocument
  readonly published: ContentDocument | null
  readonly binned: boolean
}

export interface TestHere {
  readonly number: number
  readonly status: Status
  readonly design: Design
  readonly lock: number
}

type VersionHere = Pick<Archived<'versions'>, 'name' | 'edits' | 'condition' | 'test'>

/** One thing of the archive, and what becomes of it here. */
export interface Planned<Of> {
  readonly thing: Of
  readonly fate: ArchiveFate
  /** Why it is skipped. */
  readonly why: string
}

export interface Plan {
  readonly documents: readonly Planned<Archived<'documents'>>[]
  readonly tests: readonly (Planned<Archived<'tests'>> & { readonly here: TestHere | null })[]
  readonly versions: readonly Planned<Archived<'versions'>>[]
  readonly segments: readonly Planned<Segment>[]
  readonly goals: readonly Planned<Goal>[]
  readonly campaigns: readonly Planned<string>[]
  readonly media: readonly Planned<Archived<'media'>>[]
  readonly settings: readonly Planned<ArchivedSettings>[]
  readonly rules: readonly Planned<Archived<'rules'>>[]
  readonly plans: readonly Planned<Archived<'plans'>>[]
  readonly redirects: readonly Planned<Archived<'redirects'>>[]
  readonly history: readonly Planned<Archived<'history'>>[]
  readonly takenOff: readonly Planned<Archived<'takenOff'>>[]
}

/**
 * What loading an archive does, thing by thing: it is said from this before, and carried out from this after. What is
 * here as it is in the archive is left alone, so that an archive that is loaded twice does nothing the second time.
 */
export function planOf(site: ArchivedSite, here: Here): Plan {
  const documents = site.documents.map((thing) => ({ thing, ...documentFate(thing, here) }))
  const left = new Map<string, string>(
    documents.flatMap(({ thing, fate, why }) =>
      fate === 'skipped' && !here.documents.has(thing.draft.id) ? [[thing.draft.id, why]] : [],
    ),
  )
  const tests = site.tests.map((thing) => ({ thing, ...testFate(thing, site, here, left) }))
  const fateOfTest = new Map(tests.map(({ thing, fate, why }) => [thing.number, { fate, why }]))
  return {
    documents,
    tests,
    versions: site.versions.map((thing) => ({
      thing,
      ...(thing.test === null
        ? versionFate(thing, here, left)
        : (fateOfTest.get(thing.test) ?? skipped('Its test is not in the archive.'))),
    })),
    segments: site.segments.map((thing) => ({ thing, ...segmentFate(thing, here) })),
    goals: site.goals.map((thing) => ({ thing, ...goalFate(thing, here) })),
    campaigns: site.campaigns.map((thing) => ({ thing, ...(here.campaigns.has(thing) ? same : fresh) })),
    media: site.media.map((thing) => ({ thing, ...(here.media.has(thing.name) ? same : fresh) })),
    settings: site.settings === null ? [] : [{ thing: site.settings, ...settingsFate(site.settings, here) }],
    rules: site.rules.map((thing) => ({ thing, ...placedFate(thing, left, ruleFate(thing, here)) })),
    plans: site.plans.map((thing) => ({
      thing,
      ...placedFate(thing, left, fateBeside(here.plans.get(partId(thing)), thing.plan)),
    })),
    redirects: site.redirects.map((thing) => ({
      thing,
      ...placedFate(thing, left, redirectFate(thing, site, here)),
    })),
    history: site.history.map((thing) => ({ thing, ...historyFate(thing, here, left) })),
    takenOff: site.takenOff.map((thing) => ({ thing, ...(here.takenOff.has(thing.id) ? same : fresh) })),
  }
}

/** What a part of a document is called where rules are kept by it. */
export const partId = ({ document, node }: { readonly document: string; readonly node: string }) => `${document}.${node}`

/**
 * The numbers that the tests of an archive have here: their own where no other test has it, so that what names them goes on
 * naming them.
 */
export function numbersOf({ tests, history }: Plan, here: Here): Map<number, number> {
  const numbers = new Map<number, number>()
  let next = Math.max(0, ...here.numbers, ...[...tests, ...history].map(({ thing }) => thing.number)) + 1
  const known = new Map(here.history.map(({ number, name, at }) => [`${name}\n${at}`, number]))
  for (const { thing, here: found } of tests) if (found !== null) numbers.set(thing.number, found.number)
  for (const { thing, fate } of history) {
    const found = fate === 'same' ? known.get(`${thing.name}\n${thing.at}`) : undefined
    if (found !== undefined) numbers.set(thing.number, found)
  }
  for (const { thing, fate } of [...history, ...tests])
    if (fate === 'new') numbers.set(thing.number, here.numbers.has(thing.number) ? next++ : thing.number)
  return numbers
}

type Fate = Omit<Planned<never>, 'thing'>
const fresh: Fate = { fate: 'new', why: '' }
const same: Fate = { fate: 'same', why: '' }
const replaced: Fate = { fate: 'replaced', why: '' }
const skipped = (why: string): Fate => ({ fate: 'skipped', why })

/** What is not here is new; what is here otherwise is replaced. */
function fateBeside(here: unknown, thing: unknown): Fate {
  if (here === undefined || here === null) return fresh
  return isSameData(here, thing) ? same : replaced
}

/** What is of a document that does not come in does not either. */
function placedFate({ document }: { readonly document: string }, left: ReadonlyMap<string, string>, fate: Fate): Fate {
  const why = left.get(document)
  return why === undefined ? fate : skipped(why)
}

function settingsFate(settings: ArchivedSettings, { settings: here }: Here): Fate {
  if (isSameData(here ?? archivedSettingsSchema.parse({}), settings)) return same
  return here === null ? fresh : replaced
}

function ruleFate(thing: Archived<'rules'>, here: Here): Fate {
  return fateBeside(here.rules.get(partId(thing)), thing)
}

function redirectFate({ from, document }: Archived<'redirects'>, site: ArchivedSite, here: Here): Fate {
  const found = here.redirects.get(from)
  if (found === document) return same
  if (!here.documents.has(document) && !site.documents.some(({ draft }) => draft.id === document))
    return skipped('The page that it leads to is not in the archive.')
  const owner = here.addresses.get(from)
  if (owner !== undefined) return skipped(`At ${from} is the page “${owner}” here.`)
  return found === undefined ? fresh : replaced
}

/** It is read and never changed, so one that is here is that one. */
function historyFate(
  { name, at, documents, versions }: Archived<'history'>,
  here: Here,
  left: ReadonlyMap<string, string>,
): Fate {
  if (here.history.some((one) => one.name === name && one.at === at)) return same
  const why = documents.flatMap((document) => left.get(document) ?? [])[0]
  if (why !== undefined) return skipped(why)
  if (versions.some((version) => here.versions.has(version))) return skipped('Its variants are of another test here.')
  return fresh
}

function documentFate({ draft, published }: Archived<'documents'>, here: Here): Fate {
  const path = draft.kind === 'page' ? String(draft.nodes[draft.root]?.props.path ?? '') : ''
  const found = here.documents.get(draft.id)
  if (found?.binned === true) return skipped('It lies in the bin here. Bring it back first.')
  if (found !== undefined && isSameData(found.draft, draft) && isSameData(found.published, published ?? found.published))
    return same
  const owner = path === '' ? undefined : here.addresses.get(path)
  // The page that every site begins with makes room while nobody has touched it.
  if (owner !== undefined && !(path === '/' && here.untouched !== null))
    return skipped(`Its address ${path} belongs to “${owner}” here. Give that page another one first.`)
  const [test] = here.restingOn.get(draft.id) ?? []
  if (test !== undefined) return skipped(`The test “${test}” runs on it. End it first.`)
  return found === undefined ? fresh : replaced
}

/** A test is known by its variants, which have names that no other has; one without any, by its whole design. */
function testFate(
  { number, design }: Archived<'tests'>,
  site: ArchivedSite,
  here: Here,
  left: ReadonlyMap<string, string>,
): Fate & { readonly here: TestHere | null } {
  const versions = site.versions.filter(({ test }) => test === number)
  const known = versions.flatMap(({ id }) => here.versions.get(id)?.test ?? [])
  const found =
    here.tests.find((one) => known.includes(one.number)) ??
    (versions.length === 0 ? here.tests.find((one) => isSameData(one.design, design)) : undefined) ??
    null
  if (found === null) {
    const why = partsOf(design).flatMap(({ document }) => left.get(document) ?? [])
    return { ...(why[0] === undefined ? fresh : skipped(why[0])), here: null }
  }
  const mine = [...here.versions].filter(([, { test }]) => test === found.number).map(([id]) => id)
  const unchanged =
    isSameData(found.design, design) &&
    mine.length === versions.length &&
    versions.every((version) => isSame(version, here.versions.get(version.id)))
  if (unchanged) return { ...same, here: found }
  if (found.status === 'draft') return { ...replaced, here: found }
  return {
    ...skipped(found.status === 'settled' ? 'It has been decided here.' : 'It is no draft here any more, so it stays as it is.'),
    here: found,
  }
}

function versionFate(version: Archived<'versions'>, here: Here, left: ReadonlyMap<string, string>): Fate {
  const why = left.get(version.document)
  if (why !== undefined) return skipped(why)
  const found = here.versions.get(version.id)
  if (found === undefined) return fresh
  return isSame(version, found) ? same : replaced
}

function isSame({ name, edits, condition }: Archived<'versions'>, other: VersionHere | undefined): boolean {
  return other !== undefined && isSameData([name, edits, condition], [other.name, other.edits, other.condition])
}

/** It is named by its id, so that another one with that id cannot come beside it. */
function segmentFate({ id, condition }: Segment, here: Here): Fate {
  const found = here.segments.find((one) => one.id === id)
  if (found === undefined) return fresh
  return isSameData(found.condition, condition) ? same : skipped('It is here already and asks otherwise. What is here stays.')
}

function goalFate(goal: Goal, here: Here): Fate {
  const found = here.goals.get(goal.id)
  if (found === undefined) return fresh
  return isSameData(found, goal) ? same : skipped('It is here already and counts otherwise. What is here stays.')
}

/** As it is said before and after. */
export function reportOf(plan: Plan, site: Pick<ArchivedSite, 'leftOut'>, release: number | null): ArchiveReport {
  const named = {
    documents: plan.documents.map((one) => ({ ...one, name: titleOf(one.thing.draft) })),
    tests: plan.tests.map((one) => ({ ...one, name: one.thing.design.name })),
    versions: plan.versions.map((one) => ({ ...one, name: one.thing.name })),
    segments: plan.segments.map((one) => ({ ...one, name: one.thing.name })),
    goals: plan.goals.map((one) => ({ ...one, name: one.thing.name })),
    campaigns: plan.campaigns.map((one) => ({ ...one, name: one.thing })),
    media: plan.media.map((one) => ({ ...one, name: one.thing.title })),
    settings: plan.settings.map((one) => ({ ...one, name: 'Name, look, language, consent and what else is set' })),
    rules: plan.rules.map((one) => ({ ...one, name: one.thing.rules.map(({ version }) => version.name).join(', ') })),
    plans: plan.plans.map((one) => ({ ...one, name: partId(one.thing) })),
    redirects: plan.redirects.map((one) => ({ ...one, name: one.thing.from })),
    history: plan.history.map((one) => ({ ...one, name: one.thing.name })),
    takenOff: plan.takenOff.map((one) => ({ ...one, name: one.thing.name })),
  }
  return {
    release,
    leftOut: site.leftOut,
    groups: Object.entries(named).map(([kind, things]) => ({
      kind: kind as keyof typeof named,
      ...countsOf(things),
    })),
    named: Object.entries(named)
      .flatMap(([kind, things]) =>
        things
          .filter(({ fate }) => fate === 'replaced' || fate === 'skipped')
          .map(({ name, fate, why }) => ({ kind: kind as keyof typeof named, name, fate, why })),
      )
      .slice(0, 200),
  }
}

function countsOf(things: readonly { fate: ArchiveFate }[]): Record<ArchiveFate, number> {
  const counts = { new: 0, replaced: 0, same: 0, skipped: 0 }
  for (const { fate } of things) counts[fate]++
  return counts
}
