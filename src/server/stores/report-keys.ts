import { createHash, randomBytes } from 'node:crypto'
import type { Knex } from 'knex'
import * as z from 'zod'
import type { LiveTransaction } from '../database/go-live'
import { newId } from '../new-id'

const rowSchema = z.object({
  id: z.string(),
  name: z.string(),
  origin: z.string(),
  hash: z.instanceof(Buffer).transform((bytes) => bytes.toString('hex')),
  created_at: z.date(),
  created_by: z.string(),
  revoked_at: z.date().nullable(),
})
export type KeyRow = z.infer<typeof rowSchema>

export async function listKeys(db: Knex): Promise<KeyRow[]> {
  const rows: unknown[] = await db('report_keys').orderBy('created_at', 'desc').limit(200)
  return rows.map((row) => rowSchema.parse(row))
}

/** Keys that still open something, for the release. */
export async function liveKeys(db: Knex): Promise<{ id: string; origin: string; hash: string }[]> {
  return (await listKeys(db))
    .filter(({ revoked_at }) => revoked_at === null)
    .map(({ id, origin, hash }) => ({ id, origin, hash }))
}

/** A new key, said once: 192 random bits, of which only the SHA-256 is kept (no dictionary reaches that many). */
export async function createKey(
  trx: LiveTransaction,
  name: string,
  origin: string,
  by: string,
): Promise<{ id: string; key: string }> {
  const id = newId()
  const key = `sk_${randomBytes(24).toString('base64url')}`
  const hash = createHash('sha256').update(key).digest()
  await trx('report_keys').insert({ id, name, origin, hash, created_at: new Date(), created_by: by })
  return { id, key }
}

export async function revokeKey(trx: LiveTransaction, id: string): Promise<boolean> {
  return (await trx('report_keys').where({ id }).whereNull('revoked_at').update({ revoked_at: new Date() })) > 0
}
