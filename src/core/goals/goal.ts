import * as z from 'zod'
import { documentIdSchema, goalIdSchema, nodeIdSchema } from '../ids'

/** What a goal counts: a press on a component (or on something in it), or a page being shown. */
export const wiringSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('click'), document: documentIdSchema, node: nodeIdSchema }),
  z.object({ kind: z.literal('page'), document: documentIdSchema }),
])
export type Wiring = Readonly<z.infer<typeof wiringSchema>>

export const goalSchema = z.object({
  id: goalIdSchema,
  name: z.string().trim().min(1, 'give the goal a name').max(120),
  wiring: wiringSchema,
  /** Points for one conversion. */
  worth: z.number().min(0).max(1_000_000).default(1),
  counts: z.enum(['once', 'everyTime']).default('once'),
  /** Days after the first exposure within which a conversion is credited. */
  withinDays: z.number().int().min(1).max(90).default(14),
})
export type Goal = Readonly<z.infer<typeof goalSchema>>
