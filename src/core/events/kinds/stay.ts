import * as z from 'zod'
import { documentIdSchema } from '../../ids'
import { eventKind } from './kind'

/** One page has been looked at for so many seconds. */
export const stay = eventKind({
  schema: z.object({ kind: z.literal('stay'), document: documentIdSchema, seconds: z.number() }),
  row: {
    schema: z.object({ document_id: documentIdSchema, about: z.object({ seconds: z.number() }) }),
    write: ({ document, seconds }) => ({ document_id: document, about: { seconds } }),
    read: ({ document_id: document, about: { seconds } }) => ({ kind: 'stay' as const, document, seconds }),
  },
  wire: {
    schema: z.strictObject({ k: z.literal('stay'), s: z.number().int().min(1).max(3600) }),
    read: ({ s }, { document }) => ({ kind: 'stay' as const, document, seconds: s }),
  },
})
