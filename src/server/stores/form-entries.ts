import type { Knex } from 'knex'
import * as z from 'zod'
import { documentIdSchema, nodeIdSchema } from '@/core/ids'
import type { FormEntry } from '@/core/events'
import { jsonColumn } from '../database/json-column'

const rowSchema = z.object({
  seq: z.number(),
  document_id: documentIdSchema,
  node_id: nodeIdSchema,
  entry: jsonColumn(z.record(z.string(), z.string())),
  at: z.date(),
  visitor: z
    .instanceof(Buffer)
    .transform((bytes) => bytes.toString('hex'))
    .nullable(),
  status: z.enum(['waiting', 'accepted', 'refused']),
  tries: z.number(),
  order_worth: z.coerce.number().nullable(),
  message: z.string(),
})
export type EntryRow = z.infer<typeof rowSchema>

/** Keeps what visitors sent until the service behind the form takes it. An entry that is already there is left as it is. */
export async function keepEntries(db: Knex, entries: readonly FormEntry[], within?: number): Promise<void> {
  if (entries.length === 0) return
  const statement = db('form_entries')
    .insert(
      entries.map(({ id, at, document, node, order, values, visitor }) => ({
        id: Buffer.from(id, 'hex'),
        document_id: document,
        node_id: node,
        entry: JSON.stringify(values),
        order_worth: order ?? null,
        at,
        visitor: visitor === null ? null : Buffer.from(visitor, 'hex'),
        status: 'waiting',
        next_at: at,
      })),
    )
    .onConflict('id')
    .ignore()
  await (within === undefined ? statement : statement.timeout(within))
}

/** The entries whose turn it is, oldest first. */
export async function waitingEntries(db: Knex, limit: number): Promise<EntryRow[]> {
  const rows: unknown[] = await db('form_entries')
    .where({ status: 'waiting' })
    .where('next_at', '<=', new Date())
    .orderBy('seq')
    .limit(limit)
  return rows.map((row) => rowSchema.parse(row))
}

/** What a visitor sent, the newest first. */
export async function entriesOf(db: Knex, visitor: string, most: number): Promise<EntryRow[]> {
  const rows: unknown[] = await db('form_entries')
    .where({ visitor: Buffer.from(visitor, 'hex') })
    .orderBy('seq', 'desc')
    .limit(most)
  return rows.map((row) => rowSchema.parse(row))
}

/** The newest first. */
export async function listEntries(db: Knex, page: number, size: number): Promise<{ total: number; rows: EntryRow[] }> {
  const total = z.object({ total: z.coerce.number() }).parse(await db('form_entries').count({ total: '*' }).first()).total
  const rows: unknown[] = await db('form_entries')
    .orderBy('seq', 'desc')
    .limit(size)
    .offset((page - 1) * size)
  return { total, rows: rows.map((row) => rowSchema.parse(row)) }
}

export async function settleEntry(trx: Knex, seq: number, status: 'accepted' | 'refused', message: string): Promise<void> {
  await trx('form_entries')
    .where({ seq })
    .update({ status, message: message.slice(0, 300), next_at: null })
}

/** Tried again after a while, each time a little later, at most every five minutes. */
export async function postponeEntry(trx: Knex, { seq, tries }: EntryRow, message: string): Promise<void> {
  const wait = Math.min(300_000, 1000 * 2 ** Math.min(tries, 9))
  await trx('form_entries')
    .where({ seq })
    .update({ tries: tries + 1, message: message.slice(0, 300), next_at: new Date(Date.now() + wait) })
}
