import * as z from 'zod'
import { documentIdSchema } from '../../ids'
import { eventKind } from './kind'

/** A link to elsewhere was followed. */
export const outbound = eventKind({
  schema: z.object({ kind: z.literal('outbound'), document: documentIdSchema, address: z.string() }),
  row: {
    schema: z.object({ document_id: documentIdSchema, about: z.object({ address: z.string() }) }),
    write: ({ document, address }) => ({ document_id: document, about: { address } }),
    read: ({ document_id: document, about: { address } }) => ({ kind: 'outbound' as const, document, address }),
  },
  wire: {
    schema: z.strictObject({ k: z.literal('out'), a: z.url().max(500) }),
    read: ({ a }, { document }) => ({ kind: 'outbound' as const, document, address: a }),
  },
})
