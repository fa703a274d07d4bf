import * as z from 'zod'
import type { NodeId } from '../../ids'
import { subtreeSchema, type ContentNode } from '../document'
import { named } from '../vocabulary'
import { applied, place, placed, refused, withNodes, type EditKind } from './kind'

export const insertSchema = z.object({ kind: z.literal('insert'), ...place, tree: subtreeSchema })

/** A new part with all that is in it. */
export const insert: EditKind<Readonly<z.infer<typeof insertSchema>>> = {
  apply: (document, { parent, after, tree }) => {
    const holder = document.nodes[parent]
    if (holder === undefined) return refused('parentMissing')
    if (Object.keys(tree.nodes).some((id) => document.nodes[id as NodeId] !== undefined)) return refused('idTaken')
    const children = placed(holder.children, tree.root, after)
    return applied(withNodes(document, { ...tree.nodes, [parent]: { ...holder, children } }), { kind: 'remove', node: tree.root })
  },
  touches: (_, { parent, tree }) => [`${parent}/`, ...Object.keys(tree.nodes).map((id) => `${id}.*`)],
  at: ({ parent }) => parent,
  takesInside: false,
  changes: (_, { parent }) => [parent],
  reach: (_, { parent }) => [parent],
  withProps: (_, edit, change) => {
    const nodes: Record<NodeId, ContentNode> = {}
    for (const [id, node] of Object.entries(edit.tree.nodes) as [NodeId, ContentNode][])
      nodes[id] = { ...node, props: change(node.type, node.props) }
    return { ...edit, tree: { ...edit.tree, nodes } }
  },
  words: (document, { parent, tree }, words) =>
    `adds a ${words.typeName(tree.nodes[tree.root]?.type ?? 'component')} to ${named(document, parent, words)}`,
  short: () => 'added part',
}
