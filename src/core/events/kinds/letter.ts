import * as z from 'zod'
import { documentIdSchema } from '../../ids'
import { inwardKind } from './kind'

const about = { letter: z.number(), recipient: z.string(), did: z.enum(['shown', 'followed']) }

/** A call to action in a newsletter that was opened, or whose link was followed, by whom it was sent to. */
export const letter = inwardKind({
  schema: z.object({ kind: z.literal('letter'), call: documentIdSchema, ...about }),
  row: {
    schema: z.object({ nodes: documentIdSchema, about: z.object(about) }),
    write: (event) => ({ nodes: event.call, about: { letter: event.letter, recipient: event.recipient, did: event.did } }),
    read: (row) => ({ kind: 'letter' as const, call: row.nodes, ...row.about }),
  },
})
