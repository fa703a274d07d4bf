import * as z from 'zod'
import { goalKind, nothing } from './kind'

/** An order was reported. A refund reaches nothing; it takes worth back. */
export const order = goalKind(z.object({ kind: z.literal('order') }), {
  label: 'Something is ordered',
  words: () => 'an order is reported',
  reaches: (_, event) => event.kind === 'order' && event.value >= 0,
  doing: (_, { order: number, value }) => [{ kind: 'order', order: number, value }],
  needs: () => nothing,
  toldByPage: false,
  reported: true,
  begins: () => ({ kind: 'order' }),
})
