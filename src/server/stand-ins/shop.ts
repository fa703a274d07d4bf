import type { Knex } from 'knex'
import * as z from 'zod'
import type { StampedEvent } from '@/core/events'
import { eventIdOf } from '@/serving/event-id'
import { writeEvents } from '../stores/events'

/** An order as a shop reports it. */
export interface Order {
  readonly number: string
  readonly visitor: string
  readonly at: Date
  /** In the currency of the site. */
  readonly value: number
}

/** The event of an order, or of what was paid back of it: the same report always makes the same event. */
export function orderEvent({ number, visitor, at, value }: Order, which = ''): StampedEvent {
  return { id: eventIdOf(`order ${number} ${which}`), crowd: 0, visitor, at, kind: 'order', order: number, value }
}

const rowSchema = z.object({
  number: z.string(),
  visitor: z.instanceof(Buffer).transform((bytes) => bytes.toString('hex')),
  at: z.date(),
  value: z.number(),
  refunded: z.number(),
  closed: z.coerce.boolean(),
})
export type OrderRow = z.infer<typeof rowSchema>

/** Stands in for a shop: an order for every reservation that was accepted. */
export async function takeOrder(trx: Knex, entry: number, visitor: string, at: Date, value: number): Promise<void> {
  await writeEvents(trx, [orderEvent({ number: `R-${String(entry).padStart(5, '0')}`, visitor, at, value })])
}

export async function listOrders(db: Knex, page: number, size: number): Promise<{ total: number; rows: OrderRow[] }> {
  const total = z.object({ total: z.coerce.number() }).parse(await db('orders').count({ total: '*' }).first()).total
  const rows: unknown[] = await db('orders')
    .orderBy([
      { column: 'at', order: 'desc' },
      { column: 'number', order: 'desc' },
    ])
    .limit(size)
    .offset((page - 1) * size)
  return { total, rows: rows.map((row) => rowSchema.parse(row)) }
}

/** Held until the transaction ends, so that nothing is paid back twice. */
export async function holdOrder(trx: Knex.Transaction, number: string): Promise<OrderRow | null> {
  const row: unknown = await trx('orders').where({ number }).forUpdate().first()
  return row === undefined ? null : rowSchema.parse(row)
}
