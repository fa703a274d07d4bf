import * as z from 'zod'
import { inwardKind } from './kind'

const about = { order: z.string(), value: z.number() }

/** An order; `value` in the site's currency, below zero for a refund of the order with this number. */
export const order = inwardKind({
  schema: z.object({ kind: z.literal('order'), ...about }),
  row: {
    schema: z.object({ about: z.object(about) }),
    write: (event) => ({ about: { order: event.order, value: event.value } }),
    read: (row) => ({ kind: 'order' as const, ...row.about }),
  },
})
