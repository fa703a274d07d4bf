import type { Knex } from 'knex'
import * as z from 'zod'
import { csvMapping, type CsvMapping, type Output } from '@/contract/contract'
import { shortened } from '@/core/text'
import { jsonColumn } from '../database/json-column'
import type { ReadLine } from '../formats/order-table'
import { newId } from '../new-id'

const PART = 2_000_000
/** Lines that are named one by one, of each kind; of the rest it is said how many they are. */
const NAMED = 200
/** A table that nobody said the columns of, or that was read, is let go of after so long. */
const KEPT = 86_400_000

const faultyLine = z.object({ line: z.number(), fault: z.string() })
const namedSchema = z.object({ repeated: z.array(faultyLine), refused: z.array(faultyLine) })
type Named = z.infer<typeof namedSchema>

const rowSchema = z.object({
  id: z.string(),
  name: z.string(),
  lines: z.number(),
  state: z.enum(['waiting', 'reading', 'done', 'refused']),
  plan: jsonColumn(csvMapping).nullable(),
  asked_at: z.date().nullable(),
  done: z.number(),
  taken: z.number(),
  known: z.number(),
  repeated_in_all: z.number(),
  refused_in_all: z.number(),
  named: jsonColumn(namedSchema),
  fault: z.string(),
})
type TableRow = z.infer<typeof rowSchema>

/** Keeps a table that was sent until somebody says what its columns are. @returns its id */
export async function keepTable(
  trx: Knex,
  body: Buffer,
  about: { readonly name: string; readonly lines: number; readonly account: { readonly id: string; readonly name: string } },
): Promise<string> {
  const id = newId()
  await trx('order_tables').insert({
    ...{ id, name: shortened(about.name, 200), lines: about.lines, state: 'waiting', sent_at: new Date() },
    ...{ sent_by: about.account.name, account_id: about.account.id, named: JSON.stringify({ repeated: [], refused: [] }) },
  })
  for (let part = 0; part * PART < body.length; part++)
    await trx('order_table_parts').insert({ id, part, body: body.subarray(part * PART, (part + 1) * PART) })
  return id
}

/** Whether it waited for this; one that is being read already is left as it is. */
export async function askForTable(trx: Knex, table: string, account: string, plan: CsvMapping): Promise<boolean> {
  const changed = await trx('order_tables')
    .where({ id: table, account_id: account, state: 'waiting' })
    .update({ state: 'reading', plan: JSON.stringify(plan), asked_at: new Date() })
  return changed > 0
}

export async function tableAt(db: Knex, table: string, account: string): Promise<TableRow | null> {
  const row: unknown = await db('order_tables').where({ id: table, account_id: account }).first()
  return row === undefined ? null : rowSchema.parse(row)
}

/** Those of an account that are being read, the oldest first. */
export async function tablesBeingRead(db: Knex, account: string): Promise<TableRow[]> {
  const rows: unknown[] = await db('order_tables').where({ account_id: account, state: 'reading' }).orderBy('asked_at').limit(20)
  return rows.map((row) => rowSchema.parse(row))
}

export function progressOf(row: TableRow): Output<'order.progress'> {
  const { id: table, name, lines, done, state, named, fault } = row
  const report = { taken: row.taken, known: row.known, repeatedInAll: row.repeated_in_all, refusedInAll: row.refused_in_all }
  return { table, name, lines, done, state: state === 'waiting' ? 'reading' : state, report: { ...report, ...named }, fault }
}

/** The one that is asked for first, with all that is in it. */
export async function nextTable(db: Knex): Promise<{ readonly row: TableRow; readonly body: Buffer } | null> {
  const found: unknown = await db('order_tables').where({ state: 'reading' }).orderBy('asked_at').first()
  if (found === undefined) return null
  const row = rowSchema.parse(found)
  const parts: unknown[] = await db('order_table_parts').where({ id: row.id }).orderBy('part').select('body')
  return { row, body: Buffer.concat(parts.map((part) => z.object({ body: z.instanceof(Buffer) }).parse(part).body)) }
}

/**
 * Notes some more lines of a table as read, as long as nobody else has meanwhile.
 *
 * @param from how many were read before
 */
export async function noteLines(
  trx: Knex,
  { id, named }: { readonly id: string; readonly named: Named },
  from: number,
  lines: readonly ReadLine[],
  { taken, known }: { readonly taken: number; readonly known: number },
): Promise<Named | null> {
  const of = (is: 'repeated' | 'refused') =>
    lines.flatMap((one) => (one.is === is ? [{ line: one.line, fault: shortened(one.fault, 300) }] : []))
  const [repeated, refused] = [of('repeated'), of('refused')]
  const both = {
    repeated: [...named.repeated, ...repeated].slice(0, NAMED),
    refused: [...named.refused, ...refused].slice(0, NAMED),
  }
  const changed = await trx('order_tables')
    .where({ id, state: 'reading', done: from })
    .update({ done: from + lines.length, named: JSON.stringify(both) })
    .increment({ taken, known, repeated_in_all: repeated.length, refused_in_all: refused.length })
  return changed === 0 ? null : both
}

/** What was in it is let go of: what it said is in the events. */
export async function endTable(trx: Knex, id: string, fault: string | null): Promise<void> {
  await trx('order_tables')
    .where({ id })
    .update({ state: fault === null ? 'done' : 'refused', fault: shortened(fault ?? '', 500) })
  await trx('order_table_parts').where({ id }).delete()
}

/** What nobody has come back to. @returns how many */
export async function pruneTables(db: Knex, now: Date): Promise<number> {
  const old: string[] = await db('order_tables')
    .whereNot({ state: 'reading' })
    .where('sent_at', '<', new Date(now.getTime() - KEPT))
    .limit(100)
    .pluck('id')
  await db('order_table_parts').whereIn('id', old).delete()
  return db('order_tables').whereIn('id', old).delete()
}
