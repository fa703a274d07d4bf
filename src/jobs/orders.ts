import * as z from 'zod'
import { FileFault } from '@/core/formats'
import { inTransaction, type Database } from '@/server/database/connect'
import { readApart } from '@/server/formats/apart'
import { readLines, type HappenedLine, type ReadLine } from '@/server/formats/order-table'
import { writeEvents } from '@/server/stores/events'
import { endTable, nextTable, noteLines } from '@/server/stores/order-tables'
import { calendarIn, readSettings } from '@/server/stores/settings'

/** Lines that are written and noted together. */
const AT_ONCE = 1000

/**
 * Brings in the next table of orders that somebody said the columns of, some lines at a time. After a kill it goes on where
 * it was: lines and how far it is are written together.
 *
 * @param isWanted whether to go on; asked between the lines that are written together
 * @returns whether there was one
 */
export async function takeTable(db: Database, isWanted: () => boolean): Promise<boolean> {
  const next = await nextTable(db)
  if (next === null) return false
  const { row, body } = next
  const { plan: mapping, asked_at: now } = row
  if (mapping === null || now === null) throw new Error(`table ${row.id} is read without being asked for`)
  try {
    const table = await readApart({ kind: 'orders', bytes: body })
    const { currency, timeZone } = await readSettings(db)
    let { done, named } = row
    let at = 0
    let lines: ReadLine[] = []
    const write = async (): Promise<boolean> => {
      const after = await inTransaction(db, async (trx) => {
        const counts = await written(
          trx,
          lines.flatMap((line) => (line.is === 'happened' ? [line] : [])),
        )
        return noteLines(trx, { id: row.id, named }, done, lines, counts)
      })
      if (after === null) return false
      ;[named, done, lines] = [after, done + lines.length, []]
      return true
    }
    // What was read before is read again, and not written: what repeats it is known by it.
    for (const line of readLines(table, { mapping, now, currency, calendar: calendarIn(timeZone) })) {
      if (at++ < row.done) continue
      lines.push(line)
      if (lines.length === AT_ONCE && (!isWanted() || !(await write()))) return true
    }
    if (!isWanted() || !(await write())) return true
    await endTable(db, row.id, null)
  } catch (reason) {
    if (!(reason instanceof FileFault)) throw reason
    await endTable(db, row.id, reason.message)
  }
  return true
}

/** Those that are there already count nothing. */
async function written(trx: Database, lines: readonly HappenedLine[]): Promise<{ taken: number; known: number }> {
  if (lines.length === 0) return { taken: 0, known: 0 }
  const found: unknown = await trx('events')
    .where({ crowd: 0 })
    .whereIn(
      'id',
      lines.map(({ id }) => Buffer.from(id, 'hex')),
    )
    .count({ total: '*' })
    .first()
  const known = z.object({ total: z.coerce.number() }).parse(found).total
  await writeEvents(
    trx,
    lines.map(({ id, visitor, at, happening }) => ({ id, visitor, at, crowd: 0, ...happening })),
  )
  return { taken: lines.length - known, known }
}
