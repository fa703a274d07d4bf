import * as z from 'zod'
import { documentIdSchema, nodeIdSchema } from '../ids'

/** What a visitor sent with a form. */
export const formEntrySchema = z.object({
  /** 32 hexadecimal digits, made when it arrives: kept twice, it is still one entry. */
  id: z.string().regex(/^[0-9a-f]{32}$/),
  at: z.coerce.date(),
  document: documentIdSchema,
  node: nodeIdSchema,
  /** What the order made with it is worth; 0 where nothing is ordered. `undefined`: kept before that was said with it. */
  order: z.number().min(0).optional(),
  values: z.record(z.string(), z.string()),
  /** `null` where nobody's id may be kept. */
  visitor: z.string().nullable(),
})
export type FormEntry = Readonly<z.infer<typeof formEntrySchema>>
