import { nodeAt, walk, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'

export type Rank = 'h2' | 'h3' | 'h4'

/** The ranks of what has a title of its own and stands under others: cards, prices, forms. */
const titled = new Set(['card', 'plan', 'form', 'pageList'])
const ranks: Readonly<Record<number, Rank>> = { 1: 'h2', 2: 'h3', 3: 'h4' }

/** Found once for each document, which never changes. */
const known = new WeakMap<ContentDocument['nodes'], ReadonlyMap<NodeId, Rank>>()

/**
 * The rank of a title that comes with a component: one below the heading before it, so that no rank is passed over
 * (WCAG 2.2, 1.3.1; HTML, 4.3.11). What stands on other pages cannot know what is before it there, and takes a section
 * title for that.
 */
export function rankAt(document: ContentDocument, node: NodeId): Rank {
  const found = known.get(document.nodes) ?? ranksIn(document)
  known.set(document.nodes, found)
  return found.get(node) ?? 'h3'
}

function ranksIn(document: ContentDocument): ReadonlyMap<NodeId, Rank> {
  let last = document.kind === 'page' || document.kind === 'template' ? 1 : 2
  const found = new Map<NodeId, Rank>()
  for (const id of walk(document)) {
    const { type, props } = nodeAt(document, id)
    if (titled.has(type)) found.set(id, ranks[last] ?? 'h4')
    else if (type === 'heading') last = props.level === 'h1' ? 1 : props.level === 'h3' ? 3 : 2
    else if (type === 'hero') last = 1
    else if (type === 'callToAction' && props.arrangement !== 'button') last = 2
  }
  return found
}
