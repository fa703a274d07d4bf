import * as z from 'zod'
import { documentIdSchema } from '../../ids'
import { eventKind } from './kind'

/** A call to action was really seen. */
export const call = eventKind({
  schema: z.object({ kind: z.literal('call'), document: documentIdSchema, call: documentIdSchema }),
  row: {
    schema: z.object({ document_id: documentIdSchema, nodes: documentIdSchema }),
    write: (event) => ({ document_id: event.document, nodes: event.call }),
    read: ({ document_id: document, nodes }) => ({ kind: 'call' as const, document, call: nodes }),
  },
  wire: {
    schema: z.strictObject({ k: z.literal('call'), c: documentIdSchema }),
    read: ({ c }, { document }) => ({ kind: 'call' as const, document, call: c }),
  },
})
