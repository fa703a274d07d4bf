import * as z from 'zod'
import { documentIdSchema, nodeIdSchema } from '../../ids'
import { chained, chainSchema } from './chain'
import { inwardKind } from './kind'

/** The service behind a form accepted what was sent with it. */
export const form = inwardKind({
  schema: z.object({ kind: z.literal('form'), document: documentIdSchema, nodes: z.array(nodeIdSchema).readonly() }),
  row: {
    schema: z.object({ document_id: documentIdSchema, nodes: chainSchema }),
    write: ({ document, nodes }) => ({ document_id: document, nodes: chained(nodes) }),
    read: ({ document_id: document, nodes }) => ({ kind: 'form' as const, document, nodes }),
  },
})
