import * as z from 'zod'
import { FileFault } from '@/core/formats'
import { inTransaction } from '../database/connect'
import { Failure } from '../failure'
import { guessMapping, readLines, readOrderTable, type OrderTable, type TableLine } from '../formats/order-table'
import { writeEvents } from '../stores/events'
import { readSettings } from '../stores/settings'
import type { Area } from './handler'

const SHOWN_ROWS = 8
const SHOWN_REFUSALS = 200
const AT_ONCE = 1000

/** Orders and conversions that happened elsewhere, brought in as a table. */
export const orderActions: Area<'order'> = {
  'order.preview': (_, { text }) => {
    const table = tableOf(text)
    return Promise.resolve({
      columns: [...table.columns],
      rows: table.rows.slice(0, SHOWN_ROWS).map(({ cells }) => [...cells]),
      lines: table.rows.length,
      mapping: guessMapping(table.columns),
    })
  },

  'order.take': ({ db }, { text, mapping }) =>
    inTransaction(db, async (trx) => {
      const table = tableOf(text)
      const { currency } = await readSettings(trx)
      const lines = readLines(table, mapping, Date.now(), currency)
      const good = lines.filter((line): line is Extract<TableLine, { id: string }> => 'id' in line)
      const refused = lines.flatMap((line) => ('fault' in line ? [{ line: line.line, fault: line.fault }] : []))
      let known = 0
      for (let from = 0; from < good.length; from += AT_ONCE) {
        const group = good.slice(from, from + AT_ONCE)
        const found: unknown = await trx('events')
          .where({ source: 0 })
          .whereIn(
            'id',
            group.map(({ id }) => Buffer.from(id, 'hex')),
          )
          .count({ total: '*' })
          .first()
        known += z.object({ total: z.coerce.number() }).parse(found).total
        await writeEvents(
          trx,
          group.map(({ id, visitor, at, happening }) => ({ id, visitor, at, source: 0, ...happening })),
        )
      }
      return {
        taken: new Set(good.map(({ id }) => id)).size - known,
        known,
        refused: refused.slice(0, SHOWN_REFUSALS),
        refusedInAll: refused.length,
      }
    }),
}

function tableOf(text: string): OrderTable {
  try {
    return readOrderTable(text)
  } catch (reason) {
    if (reason instanceof FileFault) throw new Failure('input', reason.message)
    throw reason
  }
}
