import * as z from 'zod'
import { nodeIdSchema, type NodeId } from '../ids'
import {
  ancestorsOf,
  nodeAt,
  parentOf,
  propNameSchema,
  propValueSchema,
  subtree,
  subtreeSchema,
  walk,
  type ContentDocument,
  type ContentNode,
} from './document'

const place = { parent: nodeIdSchema, after: nodeIdSchema.nullable() }

/**
 * One atomic change to a document. It names nodes by id, never by position, so it outlives changes around it.
 * A `set` without a value takes the property away; `after: null` means first in the parent; `replace` gives a node
 * another type and properties and leaves what is below it.
 */
export const editSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('set'), node: nodeIdSchema, prop: propNameSchema, value: propValueSchema.optional() }),
  z.object({ kind: z.literal('insert'), ...place, tree: subtreeSchema }),
  z.object({ kind: z.literal('remove'), node: nodeIdSchema }),
  z.object({ kind: z.literal('move'), node: nodeIdSchema, ...place }),
  z.object({
    kind: z.literal('replace'),
    node: nodeIdSchema,
    type: propNameSchema,
    props: z.record(propNameSchema, propValueSchema).readonly(),
  }),
])
export type Edit = Readonly<z.infer<typeof editSchema>>
export const editsSchema = z.array(editSchema).max(500)

/** Why an edit does not fit this document. The sentence is made where it is shown. */
export type Refusal = 'nodeMissing' | 'parentMissing' | 'idTaken' | 'rootStays' | 'insideItself'

/** A document that has moved on is an ordinary outcome: a refusal is a value, not an exception. */
export type EditOutcome =
  | { readonly applied: true; readonly document: ContentDocument; readonly undo: Edit }
  | { readonly applied: false; readonly refusal: Refusal }

/** Applies one edit and says which edit takes it back. Never throws on content. */
export function applyEdit(document: ContentDocument, edit: Edit): EditOutcome {
  switch (edit.kind) {
    case 'set':
      return set(document, edit)
    case 'insert':
      return insert(document, edit)
    case 'remove':
      return remove(document, edit)
    case 'move':
      return move(document, edit)
    case 'replace':
      return replace(document, edit)
    default:
      return edit satisfies never
  }
}

export interface Applied {
  readonly document: ContentDocument
  /** Edits that no longer fit, with the reason, in their order. */
  readonly refused: readonly { readonly edit: Edit; readonly refusal: Refusal }[]
  /** Applied in this order, they take back all that was applied. */
  readonly undo: readonly Edit[]
}

/** Applies edits in order; what no longer fits is passed over and listed. Total: any edits, any document. */
export function apply(document: ContentDocument, edits: readonly Edit[]): Applied {
  const refused: { edit: Edit; refusal: Refusal }[] = []
  const undo: Edit[] = []
  let now = document
  for (const edit of edits) {
    const outcome = applyEdit(now, edit)
    if (outcome.applied) {
      now = outcome.document
      undo.unshift(outcome.undo)
    } else refused.push({ edit, refusal: outcome.refusal })
  }
  return { document: now, refused, undo }
}

/** The edits that take `edits` back from `apply(document, edits)`. */
export function invert(document: ContentDocument, edits: readonly Edit[]): readonly Edit[] {
  return apply(document, edits).undo
}

type Of<Kind extends Edit['kind']> = Extract<Edit, { kind: Kind }>

function set(document: ContentDocument, { node: id, prop, value }: Of<'set'>): EditOutcome {
  const node = document.nodes[id]
  if (node === undefined) return refused('nodeMissing')
  const { [prop]: before, ...others } = node.props
  const props = value === undefined ? others : { ...others, [prop]: value }
  const undo: Edit = before === undefined ? { kind: 'set', node: id, prop } : { kind: 'set', node: id, prop, value: before }
  return applied(withNodes(document, { [id]: { ...node, props } }), undo)
}

function insert(document: ContentDocument, { parent, after, tree }: Of<'insert'>): EditOutcome {
  const holder = document.nodes[parent]
  if (holder === undefined) return refused('parentMissing')
  if (Object.keys(tree.nodes).some((id) => document.nodes[id as NodeId] !== undefined)) return refused('idTaken')
  const children = placed(holder.children, tree.root, after)
  return applied(withNodes(document, { ...tree.nodes, [parent]: { ...holder, children } }), { kind: 'remove', node: tree.root })
}

function remove(document: ContentDocument, { node: id }: Of<'remove'>): EditOutcome {
  if (document.nodes[id] === undefined) return refused('nodeMissing')
  const parent = parentOf(document, id)
  if (parent === null) return refused('rootStays')
  const holder = nodeAt(document, parent)
  const tree = subtree(document, id)
  const undo: Edit = { kind: 'insert', parent, after: before(holder.children, id), tree }
  const nodes: Record<string, ContentNode> = {
    ...document.nodes,
    [parent]: { ...holder, children: holder.children.filter((child) => child !== id) },
  }
  for (const gone of walk(document, id)) delete nodes[gone]
  return applied({ ...document, nodes }, undo)
}

function move(document: ContentDocument, { node: id, parent: target, after }: Of<'move'>): EditOutcome {
  if (document.nodes[id] === undefined) return refused('nodeMissing')
  const source = parentOf(document, id)
  if (source === null) return refused('rootStays')
  if (document.nodes[target] === undefined) return refused('parentMissing')
  if (target === id || ancestorsOf(document, target).includes(id)) return refused('insideItself')
  const from = nodeAt(document, source)
  const undo: Edit = { kind: 'move', node: id, parent: source, after: before(from.children, id) }
  const without = withNodes(document, { [source]: { ...from, children: from.children.filter((child) => child !== id) } })
  const to = nodeAt(without, target)
  return applied(withNodes(without, { [target]: { ...to, children: placed(to.children, id, after) } }), undo)
}

function replace(document: ContentDocument, { node: id, type, props }: Of<'replace'>): EditOutcome {
  const node = document.nodes[id]
  if (node === undefined) return refused('nodeMissing')
  const undo: Edit = { kind: 'replace', node: id, type: node.type, props: node.props }
  return applied(withNodes(document, { [id]: { ...node, type, props } }), undo)
}

/** After a sibling that has gone, a part goes last: near enough, and it is not lost. */
function placed(children: readonly NodeId[], id: NodeId, after: NodeId | null): NodeId[] {
  if (after === null) return [id, ...children]
  const at = children.indexOf(after)
  return at < 0 ? [...children, id] : [...children.slice(0, at + 1), id, ...children.slice(at + 1)]
}

function before(children: readonly NodeId[], id: NodeId): NodeId | null {
  return children[children.indexOf(id) - 1] ?? null
}

function withNodes(document: ContentDocument, nodes: Record<NodeId, ContentNode>): ContentDocument {
  return { ...document, nodes: { ...document.nodes, ...nodes } }
}

function applied(document: ContentDocument, undo: Edit): EditOutcome {
  return { applied: true, document, undo }
}

function refused(refusal: Refusal): EditOutcome {
  return { applied: false, refusal }
}
