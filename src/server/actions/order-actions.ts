import * as z from 'zod'
import { FileFault } from '@/core/formats'
import { inTransaction } from '../database/connect'
import { Failure } from '../failure'
import { decimalsOf, guessMapping, readLines, readOrderTable } from '../formats/order-table'
import { writeEvents } from '../stores/events'
import { calendarIn, readSettings } from '../stores/settings'
import type { Area } from './handler'

const SHOWN_ROWS = 8
const SHOWN_REFUSALS = 200
const AT_ONCE = 1000

/** Orders and conversions that happened elsewhere, brought in as a table. */
export const orderActions: Area<'order'> = {
  'order.preview': async ({ db }, { text }) => {
    const table = fileRead(() => readOrderTable(text))
    return {
      columns: [...table.columns],
      rows: table.rows.slice(0, SHOWN_ROWS).map(({ cells }) => [...cells]),
      lines: table.rows.length,
      mapping: guessMapping(table.columns),
      decimals: decimalsOf(table),
      timeZone: (await readSettings(db)).timeZone,
    }
  },

  'order.take': ({ db }, { text, mapping }) =>
    inTransaction(db, async (trx) => {
      const { currency, timeZone } = await readSettings(trx)
      const {
        happened: good,
        refused,
        repeated,
      } = fileRead(() => readLines(readOrderTable(text), { mapping, now: new Date(), currency, calendar: calendarIn(timeZone) }))
      let known = 0
      for (let from = 0; from < good.length; from += AT_ONCE) {
        const group = good.slice(from, from + AT_ONCE)
        const found: unknown = await trx('events')
          .where({ crowd: 0 })
          .whereIn(
            'id',
            group.map(({ id }) => Buffer.from(id, 'hex')),
          )
          .count({ total: '*' })
          .first()
        known += z.object({ total: z.coerce.number() }).parse(found).total
        await writeEvents(
          trx,
          group.map(({ id, visitor, at, happening }) => ({ id, visitor, at, crowd: 0, ...happening })),
        )
      }
      return {
        taken: good.length - known,
        known,
        repeated: repeated.slice(0, SHOWN_REFUSALS),
        repeatedInAll: repeated.length,
        refused: refused.slice(0, SHOWN_REFUSALS),
        refusedInAll: refused.length,
      }
    }),
}

function fileRead<Of>(read: () => Of): Of {
  try {
    return read()
  } catch (reason) {
    if (reason instanceof FileFault) throw new Failure('input', reason.message)
    throw reason
  }
}
