import * as z from 'zod'
import { eventNameSchema } from '../event-name'
import { eventKind } from './kind'

/** In the currency of the site. */
export const reportedValue = z.number().min(-1_000_000).max(1_000_000)

const about = { name: z.string(), value: z.number().nullable() }

/** Something that is reported by its name. */
export const named = eventKind({
  schema: z.object({ kind: z.literal('event'), ...about }),
  row: {
    schema: z.object({ about: z.object(about) }),
    write: ({ name, value }) => ({ about: { name, value } }),
    read: (row) => ({ kind: 'event' as const, ...row.about }),
  },
  wire: {
    schema: z.strictObject({ k: z.literal('event'), w: eventNameSchema, x: reportedValue.optional() }),
    read: ({ w, x }) => ({ kind: 'event' as const, name: w, value: x ?? null }),
  },
})
