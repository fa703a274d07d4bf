import { createHash, randomBytes } from 'node:crypto'
import type { Knex } from 'knex'
import * as z from 'zod'
import { roundSchema, type Round } from '@/core/experiment'
import { testIdSchema, type TestId } from '@/core/ids'
import { jsonColumn } from '../database/json-column'

/** How long such a link holds. */
const DAYS = 7

/** What somebody may see before it is live, and which tests they came for. */
export interface Look {
  readonly tests: readonly TestId[]
  /** Of tests that are not running, as they would be started now. */
  readonly rounds: readonly Round[]
  readonly until: Date
}

const rowSchema = z.object({
  tests: jsonColumn(z.array(testIdSchema)),
  rounds: jsonColumn(z.array(roundSchema)),
  until: z.date(),
})

/** @returns the key, which is kept nowhere */
export async function makeLook(
  db: Knex,
  { tests, rounds }: Omit<Look, 'until'>,
  by: { readonly id: string; readonly name: string },
): Promise<string> {
  const key = randomBytes(16).toString('base64url')
  const now = new Date()
  await db('looks').where('until', '<', now).limit(100).delete()
  await db('looks').insert({
    digest: digestOf(key),
    tests: JSON.stringify(tests),
    rounds: JSON.stringify(rounds),
    until: new Date(now.getTime() + DAYS * 86_400_000),
    made_at: now,
    made_by: by.name,
    account_id: by.id,
  })
  return key
}

/** `null` where there is no such link, or not any more. */
export async function readLook(db: Knex, key: string): Promise<Look | null> {
  const row: unknown = await db('looks')
    .where({ digest: digestOf(key) })
    .where('until', '>', new Date())
    .first('tests', 'rounds', 'until')
  return row === undefined ? null : rowSchema.parse(row)
}

const digestOf = (key: string) => createHash('sha256').update(key).digest()

const lineRow = z.object({ number: z.number(), until: z.date(), made_at: z.date(), made_by: z.string() })

/** The links to a test that hold now, the newest first. */
export async function looksAt(db: Knex, test: TestId): Promise<z.infer<typeof lineRow>[]> {
  const rows: unknown[] = await ofTest(db, test).where('until', '>', new Date()).orderBy('number', 'desc').limit(100)
  return rows.map((row) => lineRow.parse(row))
}

/** @param which one of them, all of a test, or all that somebody made. @returns how many were taken back */
export async function takeLooksBack(
  db: Knex,
  which: { readonly test: TestId; readonly number?: number | undefined } | { readonly account: string },
): Promise<number> {
  if ('account' in which) return db('looks').where({ account_id: which.account }).delete()
  const { test, number } = which
  return ofTest(db, test)
    .modify((query) => (number === undefined ? undefined : void query.where({ number })))
    .delete()
}

const ofTest = (db: Knex, test: TestId) => db('looks').where('tests', 'like', `%"${test}"%`)
