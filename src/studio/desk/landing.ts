import { nodeAt, parentOf, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { componentTypes } from '@/components/types'

/** Where a part is put: after a sibling, or first in its new parent. */
export interface Landing {
  readonly parent: NodeId
  readonly after: NodeId | null
}

/** Alt with up and down orders among siblings, with left promotes, with right demotes below the sibling before. */
export function landingByKey(document: ContentDocument, node: NodeId, key: string): Landing | null {
  const parent = parentOf(document, node)
  if (parent === null) return null
  const siblings = nodeAt(document, parent).children
  const at = siblings.indexOf(node)
  switch (key) {
    case 'ArrowUp':
      return at <= 0 ? null : { parent, after: siblings[at - 2] ?? null }
    case 'ArrowDown':
      return at >= siblings.length - 1 ? null : { parent, after: siblings[at + 1] ?? null }
    case 'ArrowLeft': {
      const above = parentOf(document, parent)
      return above === null || !mayHold(document, above, node) ? null : { parent: above, after: parent }
    }
    case 'ArrowRight': {
      const before = siblings[at - 1]
      if (before === undefined || !mayHold(document, before, node)) return null
      return { parent: before, after: nodeAt(document, before).children.at(-1) ?? null }
    }
    default:
      return null
  }
}

/** Whether a part may stand directly inside another, by the types of both. */
export function mayHold(document: ContentDocument, parent: NodeId, node: NodeId): boolean {
  return holdsType(document, parent, document.nodes[node]?.type ?? '')
}

export function holdsType(document: ContentDocument, parent: NodeId, type: string): boolean {
  return componentTypes.get(document.nodes[parent]?.type ?? '')?.holds.includes(type) ?? false
}
