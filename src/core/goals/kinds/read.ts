import * as z from 'zod'
import { documentIdSchema, nodeIdSchema } from '../../ids'
import { goalKind } from './kind'

/** A component was in view long enough to be read. */
export const read = goalKind(z.object({ kind: z.literal('read'), document: documentIdSchema, node: nodeIdSchema }), {
  label: 'Something is read',
  words: ({ document }, { titleOf }) => `something on “${titleOf(document)}” is read`,
  reaches: ({ node }, event) => event.kind === 'read' && event.node === node,
  doing: ({ document, node }) => [{ kind: 'read', document, node }],
  needs: ({ document, node }) => ({ kind: 'component', document, node, doing: 'seen' }),
  toldByPage: true,
  reported: false,
  begins: () => null,
})
