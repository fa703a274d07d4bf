import * as z from 'zod'
import { statuses } from '@/core/experiment'
import { documentIdSchema, testIdSchema } from '@/core/ids'
import { asks, day, listOf, pageStates, paging, placeLine, when } from './action'

export const callLine = z.object({
  id: documentIdSchema,
  title: z.string(),
  look: z.string(),
  campaign: z.string(),
  state: z.enum(pageStates),
  places: z.array(placeLine),
  tests: z.array(z.object({ id: testIdSchema, name: z.string(), status: z.enum(statuses) })),
  views: z.number(),
  clicks: z.number(),
  submissions: z.number(),
  worth: z.number(),
  /** Orders whose visitor pressed it last, in the fourteen days before; in the currency of the site. */
  revenue: z.number(),
  ordersOpen: z.number(),
  ordersClosed: z.number(),
  updatedAt: when,
  updatedBy: z.string(),
})
export type CallLine = z.infer<typeof callLine>

export const callFilter = z.object({
  campaign: z.string().max(120).default(''),
  from: day.nullable().default(null),
  to: day.nullable().default(null),
  channel: z.enum(['page', 'newsletter', 'all']).default('all'),
})

export const callActions = {
  'call.list': asks(
    callFilter.extend({ ...paging, only: documentIdSchema.optional() }),
    listOf(callLine).extend({ currency: z.string() }),
  ),
  'call.table': asks(callFilter, z.object({ csv: z.string() })),
}
