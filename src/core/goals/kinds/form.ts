import * as z from 'zod'
import { documentIdSchema, nodeIdSchema } from '../../ids'
import { goalKind } from './kind'

/** The service behind the form accepted what was sent. */
export const form = goalKind(z.object({ kind: z.literal('form'), document: documentIdSchema, node: nodeIdSchema }), {
  label: 'A form is accepted',
  words: ({ document }, { titleOf }) => `the form on “${titleOf(document)}” is accepted`,
  reaches: ({ node }, event) => event.kind === 'form' && event.nodes.includes(node),
  doing: ({ document, node }) => [{ kind: 'form', document, nodes: [node] }],
  needs: ({ document, node }) => ({ kind: 'component', document, node, doing: 'sent' }),
  toldByPage: true,
  reported: false,
  begins: () => null,
})
