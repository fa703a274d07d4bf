import { nodeIdSchema, type NodeId } from '../../ids'
import { parentOf, type ContentDocument, type ContentNode, type Props } from '../document'
import type { Edit } from './index'
import type { Vocabulary } from '../vocabulary'

/** Why an edit does not fit this document. The sentence is made where it is shown. */
export type Refusal = 'nodeMissing' | 'parentMissing' | 'idTaken' | 'rootStays' | 'insideItself'

/** A document that has moved on is an ordinary outcome: a refusal is a value, not an exception. */
export type EditOutcome =
  | { readonly applied: true; readonly document: ContentDocument; readonly undo: Edit }
  | { readonly applied: false; readonly refusal: Refusal }

/** All that a kind of edit has to say for itself, in one place. The document is always the one before the edit. */
export interface EditKind<E> {
  /** Never throws on content. */
  readonly apply: (document: ContentDocument, edit: E) => EditOutcome
  /** `node.prop` a property, `node.*` all of a node, `node@` its place, `node/` the order of its children. */
  readonly touches: (document: ContentDocument, edit: E) => readonly string[]
  /** The component that has to be there: what is changed, or what takes something new in. */
  readonly at: (edit: E) => NodeId
  /** Whether all that is in that component goes with it. */
  readonly takesInside: boolean
  /** The components that are no longer as they were, themselves or in the order of what they hold. */
  readonly changes: (document: ContentDocument, edit: E) => readonly NodeId[]
  /** Where it can be seen. */
  readonly reach: (document: ContentDocument, edit: E) => readonly NodeId[]
  /** The same with other properties, where it brings any: of a component of this type, as far as that is known. */
  readonly withProps: (
    document: Pick<ContentDocument, 'nodes'>,
    edit: E,
    change: (type: string | undefined, props: Props) => Props,
  ) => E
  /** “changes the words of the heading “Play it first” to “…””. */
  readonly words: (document: ContentDocument, edit: E, words: Vocabulary) => string
  /** The same in a word or two. */
  readonly short: (document: ContentDocument, edit: E, words: Vocabulary) => string
}

/** A place among siblings. `after: null` means first in the parent. */
export const place = { parent: nodeIdSchema, after: nodeIdSchema.nullable() }

/** After a sibling that has gone, a part goes last: near enough, and it is not lost. */
export function placed(children: readonly NodeId[], id: NodeId, after: NodeId | null): NodeId[] {
  if (after === null) return [id, ...children]
  const at = children.indexOf(after)
  return at < 0 ? [...children, id] : [...children.slice(0, at + 1), id, ...children.slice(at + 1)]
}

export function before(children: readonly NodeId[], id: NodeId): NodeId | null {
  return children[children.indexOf(id) - 1] ?? null
}

export function siblings(document: ContentDocument, node: NodeId): string[] {
  const parent = parentOf(document, node)
  return parent === null ? [] : [`${parent}/`]
}

export function withNodes(document: ContentDocument, nodes: Record<NodeId, ContentNode>): ContentDocument {
  return { ...document, nodes: { ...document.nodes, ...nodes } }
}

export function applied(document: ContentDocument, undo: Edit): EditOutcome {
  return { applied: true, document, undo }
}

export function refused(refusal: Refusal): EditOutcome {
  return { applied: false, refusal }
}
