import * as z from 'zod'
import { nodeIdSchema } from '../../ids'
import { ancestorsOf, nodeAt, parentOf } from '../document'
import { named } from '../vocabulary'
import { applied, before, place, placed, refused, siblings, withNodes, type EditKind } from './kind'

export const moveSchema = z.object({ kind: z.literal('move'), node: nodeIdSchema, ...place })

/** A part stands somewhere else. */
export const move: EditKind<Readonly<z.infer<typeof moveSchema>>> = {
  apply: (document, { node: id, parent: target, after }) => {
    if (document.nodes[id] === undefined) return refused('nodeMissing')
    const source = parentOf(document, id)
    if (source === null) return refused('rootStays')
    if (document.nodes[target] === undefined) return refused('parentMissing')
    if (target === id || ancestorsOf(document, target).includes(id)) return refused('insideItself')
    const from = nodeAt(document, source)
    const without = withNodes(document, { [source]: { ...from, children: from.children.filter((child) => child !== id) } })
    const to = nodeAt(without, target)
    return applied(withNodes(without, { [target]: { ...to, children: placed(to.children, id, after) } }), {
      kind: 'move',
      node: id,
      parent: source,
      after: before(from.children, id),
    })
  },
  touches: (document, { node, parent }) => [
    ...siblings(document, node),
    `${node}@`,
    `${parent}/`,
    ...ancestorsOf(document, parent).map((id) => `${id}@`),
  ],
  at: ({ node }) => node,
  takesInside: true,
  changes: (_, { node, parent }) => [node, parent],
  reach: (document, { node, parent }) => [parentOf(document, node) ?? document.root, parent],
  withProps: (_, edit) => edit,
  words: (document, { node, parent }, words) => `moves ${named(document, node, words)} within ${named(document, parent, words)}`,
  short: () => 'place',
}
