import * as z from 'zod'
import { documentIdSchema, nodeIdSchema } from '../../ids'
import { eventKind } from './kind'

/** A component was in view long enough to be read. */
export const read = eventKind({
  schema: z.object({ kind: z.literal('read'), document: documentIdSchema, node: nodeIdSchema }),
  row: {
    schema: z.object({ document_id: documentIdSchema, nodes: nodeIdSchema }),
    write: ({ document, node }) => ({ document_id: document, nodes: node }),
    read: ({ document_id: document, nodes }) => ({ kind: 'read' as const, document, node: nodes }),
  },
  wire: {
    schema: z.strictObject({ k: z.literal('read'), n: nodeIdSchema }),
    read: ({ n }, { document }) => ({ kind: 'read' as const, document, node: n }),
  },
})
