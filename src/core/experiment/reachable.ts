import { apply, walk, type ContentDocument } from '../document'
import type { Goal, Library, Wiring } from '../goals'
import type { DocumentId, GoalId, NodeId, VersionId } from '../ids'
import { changesOf, type Design, type Version } from './design'

/** Why a goal cannot be reached, by code and subject. */
export type Unreachable =
  | { readonly code: 'goalUnpublished'; readonly goal: GoalId; readonly document: DocumentId }
  | { readonly code: 'goalGone'; readonly goal: GoalId; readonly version: VersionId }
  | { readonly code: 'goalNowhere'; readonly goal: GoalId }
  | { readonly code: 'markerGone'; readonly goal: GoalId; readonly marker: string; readonly version: VersionId }

interface Surroundings {
  readonly design: Design
  readonly versions: readonly Version[]
  readonly library: Library
  readonly published: ReadonlyMap<DocumentId, ContentDocument>
}

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

function componentThere(
  goal: GoalId,
  { document, node }: { document: DocumentId; node: NodeId },
  around: Surroundings,
): Unreachable[] {
  const home = around.published.get(document)
  if (home === undefined) return [{ code: 'goalUnpublished', goal, document }]
  return armsWithout(around, (shown) => shown.id !== document || walk(shown).includes(node), [home]).map((version) => ({
    code: 'goalGone',
    goal,
    version,
  }))
}

/** Where the tested documents carry a marker in the original, each variant must carry it too; else it must be somewhere. */
function markerThere(goal: GoalId, marker: string, around: Surroundings): Unreachable[] {
  const carries = (document: ContentDocument) => walk(document).some((id) => document.nodes[id]?.props.marker === marker)
  const carriers = [...around.published.values()].filter(carries)
  if (carriers.length === 0) return [{ code: 'goalNowhere', goal }]
  return armsWithout(around, carries, carriers).map((version) => ({ code: 'markerGone', goal, marker, version }))
}

/** Arms in which one of these documents no longer has what it had. */
function armsWithout(
  { design, versions }: Surroundings,
  has: (document: ContentDocument) => boolean,
  homes: readonly ContentDocument[],
): VersionId[] {
  return design.arms
    .map(({ version }) => version)
    .filter((version) =>
      changesOf(design, versions, version).some(({ document, edits }) => {
        const home = homes.find(({ id }) => id === document)
        return home !== undefined && !has(apply(home, edits).document)
      }),
    )
}

function isShownBy(page: ContentDocument, wiring: Extract<Wiring, { kind: 'pageType' | 'address' }>): boolean {
  const { path, pageType } = page.nodes[page.root]?.props ?? {}
  if (page.kind !== 'page') return false
  if (wiring.kind === 'pageType') return pageType === wiring.pageType
  const text = String(path ?? '')
  if (wiring.by === 'is') return text === wiring.text
  return wiring.by === 'startsWith' ? text.startsWith(wiring.text) : text.includes(wiring.text)
}
