import type { Knex } from 'knex'
import * as z from 'zod'
import type { First } from '@/core/ledger'
import { inTransaction, type Database } from '../database/connect'
import { insertMany } from '../database/many-rows'
import type { WaitingEvent } from '../stores/events'
import { bytesOf, type Changed } from './visitors'

/** Who has been counted for a page or a goal, since which day: the first of them, in whatever order they are heard of. */
export async function noteFirsts(
  trx: Knex,
  newcomers: readonly { visitor: string; firsts: readonly First[] }[],
  table: 'firsts' | 'firsts_anew' = 'firsts',
): Promise<void> {
  const found = newcomers.flatMap(({ visitor, firsts }) =>
    firsts.flatMap(({ subject, day }) => (isAsked(subject) ? [[subject, bytesOf(visitor), day]] : [])),
  )
  if (found.length === 0) return
  await insertMany(trx, {
    ...{ table, columns: ['subject', 'visitor', 'day'], rows: found },
    onSame: 'day = LEAST(day, VALUES(day))',
  })
}

/** Of pages, and of goals, somebody asks who they were; of nothing else. */
function isAsked(subject: string): boolean {
  return !subject.includes(':') || subject.startsWith('g:')
}

/**
 * Orders as they stand now, with the call to action that led to each. Whether one is closed is for the shop to say.
 *
 * @param numbers of which; all that are remembered where nothing is said
 */
export async function noteOrders(
  trx: Knex,
  changed: readonly Changed[],
  numbers?: ReadonlySet<string>,
  table: 'orders' | 'orders_anew' = 'orders',
): Promise<void> {
  const rows = changed.flatMap(({ visitor, state }) =>
    [...state.calls.orders].flatMap(([number, { at, value, refunded, press }]) =>
      numbers === undefined || numbers.has(number)
        ? [
            [
              ...[number, bytesOf(visitor), new Date(at), value, refunded],
              ...[press?.call ?? null, press?.channel ?? null, press?.letter ?? null],
            ],
          ]
        : [],
    ),
  )
  if (rows.length === 0) return
  const said = ['visitor', 'at', 'value', 'refunded', 'call_id', 'channel', 'letter']
  await insertMany(trx, {
    ...{ table, columns: ['number', ...said], rows },
    onSame: said.map((column) => `${column} = VALUES(${column})`).join(', '),
  })
}

const orderRow = z.object({
  number: z.string(),
  visitor: z.instanceof(Buffer).transform((bytes) => bytes.toString('hex')),
})

const waitingRow = z.object({ number: z.string(), seq: z.number() })

/**
 * A refund belongs to whoever made the order, whoever it was reported for. One that came before its order waits by the
 * order’s number, and goes to its visitor with the order.
 *
 * @param isOurs whether this process counts a visitor: a refund of anybody else’s is left for whoever does
 * @param waitingFor reads refunds that have waited, by their place among the events
 */
export async function sendRefundsHome(
  trx: Knex,
  rows: readonly WaitingEvent[],
  isOurs: (visitor: string) => boolean,
  waitingFor: (seqs: readonly number[]) => Promise<readonly WaitingEvent[]>,
): Promise<readonly WaitingEvent[]> {
  const orders = await ordersOf(trx, rows)
  const waited: unknown[] =
    orders.size === 0
      ? []
      : await trx('waiting_refunds')
          .whereIn('number', [...orders.keys()])
          .select('number', 'seq')
  const found = waited.map((row) => waitingRow.parse(row))
  const seqs = found.map(({ seq }) => seq)
  // Each by its own key: of several, or by a part of it, every row would be looked at, and other processes’ waited for.
  await Promise.all(found.map(({ number, seq }) => trx('waiting_refunds').where({ number, seq }).delete()))
  const all = [...rows, ...(seqs.length === 0 ? [] : await waitingFor(seqs))]
  const home: WaitingEvent[] = []
  for (const row of all) {
    const { event, seq } = row
    if (event.kind !== 'order' || event.value >= 0) {
      home.push(row)
      continue
    }
    const visitor = orders.get(event.order)
    if (visitor === undefined) await trx('waiting_refunds').insert({ number: event.order, seq }).onConflict().ignore()
    if (visitor === undefined || visitor === event.visitor) {
      home.push(row)
      continue
    }
    const ours = isOurs(visitor)
    await trx('events')
      .where({ seq })
      .update(ours ? { visitor: bytesOf(visitor) } : { visitor: bytesOf(visitor), tallied: 0 })
    if (ours) home.push({ ...row, event: { ...event, visitor } })
  }
  return home
}

/** Who made the orders that these events are, or are refunds of. */
async function ordersOf(trx: Knex, rows: readonly WaitingEvent[]): Promise<Map<string, string>> {
  const orders = new Map<string, string>()
  for (const { event } of rows) if (event.kind === 'order' && event.value >= 0) orders.set(event.order, event.visitor)
  const refunded = rows.flatMap(({ event }) => (event.kind === 'order' && event.value < 0 ? [event.order] : []))
  const strange = refunded.filter((number) => !orders.has(number))
  const known: unknown[] = strange.length === 0 ? [] : await trx('orders').whereIn('number', strange).select('number', 'visitor')
  for (const raw of known) {
    const { number, visitor } = orderRow.parse(raw)
    orders.set(number, visitor)
  }
  return orders
}

/**
 * An order and its refund that two processes counted in the same moment did not see each other: the refund still waits,
 * and is sent to the order’s visitor now.
 *
 * @returns how many were
 */
export async function sendMissedRefunds(db: Database): Promise<number> {
  return inTransaction(db, async (trx) => {
    const found: unknown[] = await trx('waiting_refunds as w')
      .join('orders as o', 'o.number', 'w.number')
      .limit(200)
      .select('w.number', 'w.seq', 'o.visitor')
    for (const raw of found) {
      const { number, seq, visitor } = orderRow.extend({ seq: z.number() }).parse(raw)
      await trx('events')
        .where({ seq })
        .update({ visitor: bytesOf(visitor), tallied: 0 })
      await trx('waiting_refunds').where({ number, seq }).delete()
    }
    return found.length
  })
}
