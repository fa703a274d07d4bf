import { ORIGINAL } from '../decide'
import { apply, type ContentDocument } from '../document'
import { needOf, pagesThat, type Doing, type Goal, type Library, type Need } from '../goals'
import type { DocumentId, GoalId, VersionId } from '../ids'
import { changesOf, type Design, type Version } from './design'
import { lacking, withoutWay, type Shown, type ShownPage } from './shown'

/** Why a goal cannot be reached, by code and subject. */
export type Unreachable =
  | { readonly code: 'goalUnpublished'; readonly goal: GoalId; readonly document: DocumentId }
  | { readonly code: 'goalGone'; readonly goal: GoalId; readonly version: VersionId }
  | { readonly code: 'goalDead'; readonly goal: GoalId; readonly version: VersionId; readonly doing: Doing }
  | { readonly code: 'goalNoWay'; readonly goal: GoalId; readonly version: VersionId }
  | { readonly code: 'goalNowhere'; readonly goal: GoalId }
  | { readonly code: 'markerGone'; readonly goal: GoalId; readonly marker: string; readonly version: VersionId }
  | { readonly code: 'markerInVariantsOnly'; readonly goal: GoalId; readonly marker: string }

interface Surroundings {
  readonly design: Design
  readonly versions: readonly Version[]
  readonly library: Library
  readonly published: ReadonlyMap<DocumentId, ContentDocument>
  readonly shown: Shown
}

/** From every arm: what is pressed, read or sent must be there, what is shown must be published. Of any of several, one will do. */
export function unreachable(goal: Goal, around: Surroundings, within: readonly GoalId[] = []): Unreachable[] {
  const need = needOf(goal)
  const named = (found: Unreachable[]) => found.map((one) => ({ ...one, goal: goal.id }))
  switch (need.kind) {
    case 'page':
      return around.published.has(need.document)
        ? wayTo(goal.id, [need.document], around)
        : [{ code: 'goalUnpublished', goal: goal.id, document: need.document }]
    case 'component':
      return componentThere(goal.id, need, around)
    case 'marker':
      return markerThere(goal.id, need.marker, around)
    case 'somePage': {
      const pages = pagesThat(need.fits, around.published).map(({ id }) => id)
      return pages.length > 0 ? wayTo(goal.id, pages, around) : [{ code: 'goalNowhere', goal: goal.id }]
    }
    case 'goals': {
      const parts = need.of.map((id) => partOf(goal.id, id, around, within))
      if (need.all) return named(parts.flat())
      return parts.some((found) => found.length === 0) ? [] : named(parts[0] ?? [])
    }
    case 'nothing':
      return []
    default:
      return need satisfies never
  }
}

function partOf(whole: GoalId, id: GoalId, around: Surroundings, within: readonly GoalId[]): Unreachable[] {
  const part = around.library.get(id)
  if (part === undefined || id === whole || within.includes(id)) return [{ code: 'goalNowhere', goal: whole }]
  return unreachable(part, around, [...within, whole])
}

/** From every version there is a way to one of these pages, where there is one from the original. */
function wayTo(goal: GoalId, pages: readonly DocumentId[], { shown }: Surroundings): Unreachable[] {
  return withoutWay(shown, pages, ORIGINAL).map((version) => ({ code: 'goalNoWay', goal, version }))
}

/** In every version the component is on the page, and what counts can be done with it there. */
function componentThere(
  goal: GoalId,
  { document, node, doing }: Extract<Need, { kind: 'component' }>,
  around: Surroundings,
): Unreachable[] {
  const home = around.published.get(document)
  if (home === undefined) return [{ code: 'goalUnpublished', goal, document }]
  const versions = armsOf(around)
  const isThere = (version: VersionId) => versionOf(home, version, around).nodes[node] !== undefined
  // Of pages that nobody could look at, only what is gone from their documents can be said.
  if (around.shown.pages.length === 0)
    return versions.filter((version) => !isThere(version)).map((version) => ({ code: 'goalGone', goal, version }))
  const missing = lacking(around.shown, (page) => page[doing].has(node), versions) ?? versions
  if (missing.length === 0 && home.kind === 'page') return wayTo(goal, [document], around)
  return missing.map((version) =>
    isThere(version) ? { code: 'goalDead', goal, version, doing } : { code: 'goalGone', goal, version },
  )
}

function versionOf(home: ContentDocument, version: VersionId, { design, versions }: Surroundings): ContentDocument {
  const edits = changesOf(design, versions, version).find(({ document }) => document === home.id)?.edits ?? []
  return apply(home, edits).document
}

/** Where any version of a page has something with the marker that can be pressed, each of its versions must have. */
function markerThere(goal: GoalId, marker: string, around: Surroundings): Unreachable[] {
  const missing = lacking(around.shown, (page: ShownPage) => page.markers.has(marker), armsOf(around))
  if (missing === null) return [{ code: 'goalNowhere', goal }]
  return missing.map((version) =>
    version === ORIGINAL ? { code: 'markerInVariantsOnly', goal, marker } : { code: 'markerGone', goal, marker, version },
  )
}

function armsOf({ design }: Surroundings): VersionId[] {
  return design.arms.map(({ version }) => version)
}
