import { regions } from '@/serving/regions'
import * as z from 'zod'
import { mayAs, PAGE_SIZE } from '@/contract/contract'
import { inTransaction } from '../database/connect'
import { Failure, missing } from '../failure'
import { readMood, writeMood } from '../stand-ins/list-service'
import { holdOrder, listOrders, orderEvent } from '../stand-ins/shop'
import { writeEvents } from '../stores/events'
import { listEntries } from '../stores/form-entries'
import { readSettings } from '../stores/settings'
import type { Area } from './handler'

/** The service behind forms and the shop, as they are stood in for. */
export const standInActions: Area<'standIn'> = {
  'standIn.read': async ({ db, account }, { page, orders: orderPage }) => {
    const [mood, settings, entries, orders, waiting, titles] = await Promise.all([
      readMood(db),
      readSettings(db),
      listEntries(db, page, PAGE_SIZE),
      listOrders(db, orderPage, PAGE_SIZE),
      db('form_entries').where({ status: 'waiting' }).count({ total: '*' }).first(),
      db('documents').select('id', 'title'),
    ])
    // Names and addresses of visitors are nothing that an editor's work needs.
    const hidden = !mayAs(account.role, 'publisher')
    const names = new Map(
      z
        .array(z.object({ id: z.string(), title: z.string() }))
        .parse(titles)
        .map(({ id, title }) => [id, title]),
    )
    return {
      mood,
      currency: settings.currency,
      entries: entries.rows.map(({ seq, document_id, entry, at, status, tries, message }) => ({
        id: seq,
        page: names.get(document_id) ?? '',
        values: hidden ? Object.fromEntries(Object.keys(entry).map((name) => [name, ''])) : entry,
        at: at.toISOString(),
        status,
        tries,
        message,
      })),
      entriesInAll: entries.total,
      entriesHidden: hidden,
      waiting: z.object({ total: z.coerce.number() }).parse(waiting).total,
      orders: orders.rows.map(({ number, at, value, refunded, closed }) => ({
        number,
        at: at.toISOString(),
        value,
        refunded,
        closed,
      })),
      ordersInAll: orders.total,
      regions,
    }
  },

  'standIn.setList': ({ db, account }, { mood }) =>
    inTransaction(db, async (trx) => {
      await writeMood(trx, mood, account.name)
      // What waits is tried at once where the service answers again.
      if (mood !== 'down') await trx('form_entries').where({ status: 'waiting' }).update({ next_at: new Date() })
      return {}
    }),

  'standIn.closeOrder': async ({ db }, { order }) => {
    const changed = await db('orders').where({ number: order }).update({ closed: 1 })
    if (changed === 0) throw missing('This order')
    return {}
  },

  'standIn.refundOrder': ({ db }, { order: number, amount }) =>
    inTransaction(db, async (trx) => {
      const order = await holdOrder(trx, number)
      if (order === null) throw missing('This order')
      const reported: unknown = await trx('events')
        .where({ kind: 'order', crowd: 0, visitor: Buffer.from(order.visitor, 'hex') })
        .whereRaw("JSON_VALUE(about, '$.order') = ?", [number])
        .select(trx.raw("CAST(SUM(JSON_VALUE(about, '$.value')) AS DOUBLE) AS rest, COUNT(*) AS reports"))
        .first()
      const { rest, reports } = z.object({ rest: z.coerce.number(), reports: z.coerce.number() }).parse(reported)
      if (amount > rest + 0.004)
        throw new Failure('input', `Of this order ${rest.toFixed(2)} is left: no more than that can be paid back.`)
      await writeEvents(trx, [orderEvent({ ...order, at: new Date(), value: -amount }, `refund ${reports}`)])
      return {}
    }),
}
