import { isSameData } from '@/core/same-data'
import type { ArchiveFate, ArchiveReport } from '@/contract/contract'
import type { Segment } from '@/core/decide'
import type { ContentDocument } from '@/core/document'
import { partsOf, type Design, type Status } from '@/core/experiment'
import type { Goal } from '@/core/goals'
import { titleOf } from '@/components/references'
import type { ArchivedSite } from './archive-file'

type Archived<Kind extends 'documents' | 'versions' | 'tests' | 'segments' | 'goals' | 'media'> = ArchivedSite[Kind][number]

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
  }
}

type Fate = Omit<Planned<never>, 'thing'>
const fresh: Fate = { fate: 'new', why: '' }
const same: Fate = { fate: 'same', why: '' }
const replaced: Fate = { fate: 'replaced', why: '' }
const skipped = (why: string): Fate => ({ fate: 'skipped', why })

function documentFate({ draft, published }: Archived<'documents'>, here: Here): Fate {
  const path = draft.kind === 'page' ? String(draft.nodes[draft.root]?.props.path ?? '') : ''
  const found = here.documents.get(draft.id)
  if (found?.binned === true) return skipped('It lies in the bin here. Bring it back first.')
  if (found !== undefined && isSameData(found.draft, draft) && isSameData(found.published, published ?? found.published))
    return same
  const owner = path === '' ? undefined : here.addresses.get(path)
  if (owner !== undefined) return skipped(`Its address ${path} belongs to “${owner}” here. Give that page another one first.`)
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
export function reportOf(plan: Plan, release: number | null): ArchiveReport {
  const named = {
    documents: plan.documents.map((one) => ({ ...one, name: titleOf(one.thing.draft) })),
    tests: plan.tests.map((one) => ({ ...one, name: one.thing.design.name })),
    versions: plan.versions.map((one) => ({ ...one, name: one.thing.name })),
    segments: plan.segments.map((one) => ({ ...one, name: one.thing.name })),
    goals: plan.goals.map((one) => ({ ...one, name: one.thing.name })),
    campaigns: plan.campaigns.map((one) => ({ ...one, name: one.thing })),
    media: plan.media.map((one) => ({ ...one, name: one.thing.title })),
  }
  return {
    release,
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
