import type { Knex } from 'knex'
import * as z from 'zod'
import { sendingPlan } from '@/contract/contract'
import { documentSchema } from '@/core/document'
import { documentIdSchema, roundIdSchema, testIdSchema, versionIdSchema, type DocumentId, type RoundId } from '@/core/ids'
import { jsonColumn } from '../database/json-column'

/** A call to action as it stood in a letter when it was sent, with the test on it. */
export const sentCallSchema = z.object({
  call: documentIdSchema,
  title: z.string(),
  test: testIdSchema.nullable(),
  round: roundIdSchema.nullable(),
  versions: z.array(z.object({ version: versionIdSchema, name: z.string() })),
})
export type SentCall = z.infer<typeof sentCallSchema>

const rowSchema = z.object({
  number: z.number(),
  document_id: documentIdSchema,
  subject: z.string(),
  body: jsonColumn(documentSchema),
  calls: jsonColumn(z.array(sentCallSchema)),
  plan: jsonColumn(sendingPlan),
  status: z.enum(['waiting', 'sending', 'sent', 'stopped']),
  sent: z.number(),
  message: z.string(),
  created_at: z.date(),
  created_by: z.string(),
})
export type LetterRow = z.infer<typeof rowSchema>

export async function lettersWhere(db: Knex, narrow: (query: Knex.QueryBuilder) => void): Promise<LetterRow[]> {
  const rows: unknown[] = await db('letters').modify(narrow)
  return rows.map((row) => rowSchema.parse(row))
}

/** The letter whose turn it is to be sent, held until the transaction ends. */
export async function nextLetter(trx: Knex.Transaction): Promise<LetterRow | null> {
  const [row] = await lettersWhere(
    trx,
    (query) => void query.whereIn('status', ['waiting', 'sending']).orderBy('number').limit(1).forUpdate(),
  )
  return row ?? null
}

const lookSchema = z.object({ look: z.number(), carried: z.string(), sent: z.number() })

/** The forms in which a letter was sent, without their bodies. */
export async function looksOf(
  db: Knex,
  letters: readonly number[],
): Promise<(z.infer<typeof lookSchema> & { letter: number })[]> {
  const rows: unknown[] = await db('letter_looks')
    .whereIn('letter', letters)
    .orderBy(['letter', 'look'])
    .select('letter', 'look', 'carried', 'sent')
  return rows.map((row) => lookSchema.extend({ letter: z.number() }).parse(row))
}

const countSchema = z.object({
  letter: z.number(),
  call_id: z.string(),
  version: z.string(),
  shown: z.number(),
  followed: z.number(),
})

/** The last newsletters that carried a version of a round. */
export async function lettersOfRound(db: Knex, round: RoundId): Promise<LetterRow[]> {
  return lettersWhere(
    db,
    (query) => void query.whereRaw("JSON_SEARCH(calls, 'one', ?) IS NOT NULL", [round]).orderBy('number', 'desc').limit(20),
  )
}

/** What readers did with letters, by call to action and version; call_id '' is the letter itself. */
export async function letterCounts(db: Knex, letters: readonly number[]): Promise<z.infer<typeof countSchema>[]> {
  const rows: unknown[] = await db('letter_counts').whereIn('letter', letters)
  return rows.map((row) => countSchema.parse(row))
}

const orderSchema = z.object({ letter: z.number(), orders: z.coerce.number(), revenue: z.coerce.number() })

/** Orders of those who came by a letter, with what was paid back taken off. */
export async function letterOrders(db: Knex, letters: readonly number[]): Promise<z.infer<typeof orderSchema>[]> {
  const rows: unknown[] = await db('orders')
    .whereIn('letter', letters)
    .groupBy('letter')
    .select('letter', db.raw('COUNT(*) AS orders, ROUND(SUM(value - refunded), 2) AS revenue'))
  return rows.map((row) => orderSchema.parse(row))
}

/** How often, and when last, each of these newsletters was sent. */
export async function sendingsOf(db: Knex, documents: readonly DocumentId[]): Promise<LetterRow[]> {
  if (documents.length === 0) return []
  return lettersWhere(db, (query) => void query.whereIn('document_id', documents).orderBy('number', 'desc').limit(1000))
}
