import { ORIGINAL } from '../decide'
import { apply, type ContentDocument } from '../document'
import type { Goal, Library, Wiring } from '../goals'
import type { DocumentId, GoalId, VersionId } from '../ids'
import { changesOf, type Design, type Version } from './design'
import { lacking, type Shown, type ShownPage } from './shown'

/** What has to be done with a component for a goal. */
export type Doing = 'pressed' | 'sent' | 'seen'

/** Why a goal cannot be reached, by code and subject. */
export type Unreachable =
  | { readonly code: 'goalUnpublished'; readonly goal: GoalId; readonly document: DocumentId }
  | { readonly code: 'goalGone'; readonly goal: GoalId; readonly version: VersionId }
  | { readonly code: 'goalDead'; readonly goal: GoalId; readonly version: VersionId; readonly doing: Doing }
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

const doings: { readonly [Kind in 'click' | 'form' | 'read']: Doing } = { click: 'pressed', form: 'sent', read: 'seen' }

/** From every arm: what is pressed, read or sent must be there, what is shown must be published. Of any of several, one will do. */
export function unreachable(goal: Goal, around: Surroundings, within: readonly GoalId[] = []): Unreachable[] {
  const { wiring } = goal
  const named = (found: Unreachable[]) => found.map((one) => ({ ...one, goal: goal.id }))
  switch (wiring.kind) {
    case 'page':
      return around.published.has(wiring.document) ? [] : [{ code: 'goalUnpublished', goal: goal.id, document: wiring.document }]
    case 'click':
    case 'form':
    case 'read':
      return componentThere(goal.id, wiring, around)
    case 'marker':
      return markerThere(goal.id, wiring.marker, around)
    case 'pageType':
    case 'address':
      return [...around.published.values()].some((page) => isShownBy(page, wiring))
        ? []
        : [{ code: 'goalNowhere', goal: goal.id }]
    case 'anyOf': {
      const parts = wiring.goals.map((id) => partOf(goal.id, id, around, within))
      return parts.some((found) => found.length === 0) ? [] : named(parts[0] ?? [])
    }
    case 'steps':
      return named(wiring.goals.flatMap((id) => partOf(goal.id, id, around, within)))
    default:
      return []
  }
}

function partOf(whole: GoalId, id: GoalId, around: Surroundings, within: readonly GoalId[]): Unreachable[] {
  const part = around.library.get(id)
  if (part === undefined || id === whole || within.includes(id)) return [{ code: 'goalNowhere', goal: whole }]
  return unreachable(part, around, [...within, whole])
}

/** In every version the component is on the page, and what counts can be done with it there. */
function componentThere(
  goal: GoalId,
  { kind, document, node }: Extract<Wiring, { kind: 'click' | 'form' | 'read' }>,
  around: Surroundings,
): Unreachable[] {
  const home = around.published.get(document)
  if (home === undefined) return [{ code: 'goalUnpublished', goal, document }]
  const doing = doings[kind]
  const versions = armsOf(around)
  const isThere = (version: VersionId) => versionOf(home, version, around).nodes[node] !== undefined
  // Of pages that nobody could look at, only what is gone from their documents can be said.
  if (around.shown.pages.length === 0)
    return versions.filter((version) => !isThere(version)).map((version) => ({ code: 'goalGone', goal, version }))
  return (lacking(around.shown, (page) => page[doing].has(node), versions) ?? versions).map((version) =>
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

function isShownBy(page: ContentDocument, wiring: Extract<Wiring, { kind: 'pageType' | 'address' }>): boolean {
  const { path, pageType } = page.nodes[page.root]?.props ?? {}
  if (page.kind !== 'page') return false
  if (wiring.kind === 'pageType') return pageType === wiring.pageType
  const text = String(path ?? '')
  if (wiring.by === 'is') return text === wiring.text
  return wiring.by === 'startsWith' ? text.startsWith(wiring.text) : text.includes(wiring.text)
}
