import * as z from 'zod'
import { documentIdSchema, nodeIdSchema } from '../../ids'
import { goalKind } from './kind'

/** A press on a component, or on something in it. */
export const click = goalKind(z.object({ kind: z.literal('click'), document: documentIdSchema, node: nodeIdSchema }), {
  label: 'Something is pressed',
  words: ({ document }, { titleOf }) => `something on “${titleOf(document)}” is pressed`,
  // Node ids differ over the whole site, and a menu's or a call to action's item stands on many pages.
  reaches: ({ node }, event) => event.kind === 'click' && event.nodes.includes(node),
  doing: ({ node }, { document }) => [{ kind: 'click', document, nodes: [node], markers: [] }],
  needs: ({ document, node }) => ({ kind: 'component', document, node, doing: 'pressed' }),
  toldByPage: true,
  reported: false,
  begins: () => null,
})
