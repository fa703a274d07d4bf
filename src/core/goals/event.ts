import type { DocumentId, NodeId, RoundId, VersionId } from '../ids'
import type { Goal } from './goal'

/** Something a visitor did or was shown, with the moment the server took it in. */
export type VisitorEvent = { readonly visitor: string; readonly at: Date } & (
  | { readonly kind: 'assigned'; readonly round: RoundId; readonly version: VersionId }
  | { readonly kind: 'seen'; readonly round: RoundId; readonly version: VersionId }
  | { readonly kind: 'page'; readonly document: DocumentId }
  /** A call to action was really seen. */
  | { readonly kind: 'call'; readonly document: DocumentId; readonly call: DocumentId }
  /** `nodes`: the component that was pressed, then those it stands in, from the inside out. */
  | { readonly kind: 'click'; readonly document: DocumentId; readonly nodes: readonly NodeId[] }
)

/** Whether this event is what the goal counts, whoever did it and whatever they were shown. */
export function reaches(goal: Goal, event: VisitorEvent): boolean {
  const { wiring } = goal
  switch (wiring.kind) {
    case 'page':
      return event.kind === 'page' && event.document === wiring.document
    case 'click':
      // Node ids differ over the whole site, and a menu's or a call to action's item stands on many pages.
      return event.kind === 'click' && event.nodes.includes(wiring.node)
    default:
      return wiring satisfies never
  }
}
