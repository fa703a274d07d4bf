import * as z from 'zod'
import { nodeIdSchema } from '../../ids'
import { propNameSchema, propValueSchema } from '../document'
import { named } from '../vocabulary'
import { applied, refused, withNodes, type EditKind } from './kind'

export const replaceSchema = z.object({
  kind: z.literal('replace'),
  node: nodeIdSchema,
  type: propNameSchema,
  props: z.record(propNameSchema, propValueSchema).readonly(),
})

/** A part becomes one of another type, with what is in it left where it is. */
export const replace: EditKind<Readonly<z.infer<typeof replaceSchema>>> = {
  apply: (document, { node: id, type, props }) => {
    const node = document.nodes[id]
    if (node === undefined) return refused('nodeMissing')
    const undo = { kind: 'replace', node: id, type: node.type, props: node.props } as const
    return applied(withNodes(document, { [id]: { ...node, type, props } }), undo)
  },
  touches: (_, { node }) => [`${node}.*`],
  at: ({ node }) => node,
  takesInside: true,
  changes: (_, { node }) => [node],
  reach: (_, { node }) => [node],
  withProps: (_, edit, change) => ({ ...edit, props: change(edit.type, edit.props) }),
  words: (document, { node, type }, words) => `turns ${named(document, node, words)} into a ${words.typeName(type)}`,
  short: () => 'kind',
}
