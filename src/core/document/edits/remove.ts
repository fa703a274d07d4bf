import * as z from 'zod'
import { nodeIdSchema } from '../../ids'
import { nodeAt, parentOf, subtree, walk, type ContentNode } from '../document'
import { named } from '../vocabulary'
import { applied, before, refused, siblings, type EditKind } from './kind'

export const removeSchema = z.object({ kind: z.literal('remove'), node: nodeIdSchema })

/** A part with all that is in it is gone: in a variant it is hidden. */
export const remove: EditKind<Readonly<z.infer<typeof removeSchema>>> = {
  apply: (document, { node: id }) => {
    if (document.nodes[id] === undefined) return refused('nodeMissing')
    const parent = parentOf(document, id)
    if (parent === null) return refused('rootStays')
    const holder = nodeAt(document, parent)
    const nodes: Record<string, ContentNode> = {
      ...document.nodes,
      [parent]: { ...holder, children: holder.children.filter((child) => child !== id) },
    }
    for (const gone of walk(document, id)) delete nodes[gone]
    const tree = subtree(document, id)
    return applied({ ...document, nodes }, { kind: 'insert', parent, after: before(holder.children, id), tree })
  },
  touches: (document, { node }) => [
    ...siblings(document, node),
    ...walk(document, node).flatMap((id) => [`${id}.*`, `${id}@`, `${id}/`]),
  ],
  at: ({ node }) => node,
  takesInside: true,
  changes: (document, { node }) => (document.nodes[node] === undefined ? [] : walk(document, node)),
  reach: (_, { node }) => [node],
  withProps: (_, edit) => edit,
  words: (document, { node }, words) => `hides ${named(document, node, words)}`,
  short: () => 'hidden part',
}
