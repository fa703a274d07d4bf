import type { Knex } from 'knex'
import * as z from 'zod'
import { identitySchema } from '@/core/identity'
import { mailServices } from '@/contract/contract'
import { jsonColumn } from '../database/json-column'

/** What an administrator decides for the whole site. */
export const settingsSchema = z.object({
  /** Whether scripts that variants bring may run for visitors. */
  scripts: z.boolean().default(false),
  /** What worth in money is in: an ISO 4217 code. */
  currency: z
    .string()
    .regex(/^[A-Z]{3}$/, 'a currency has three capital letters, such as EUR (ISO 4217)')
    .default('EUR'),
  /** What the site calls itself. */
  identity: identitySchema.prefault({}),
  /** Whoever leaves the first page of a visit within these seconds, having done nothing, has bounced. */
  bounceSeconds: z.number().int().min(1).max(600).default(5),
  /** Whether this site is there to be shown: what made-up readers of its newsletters do then counts, and says so. */
  demonstration: z.boolean().default(false),
  /** For how many days the audit trail is kept. */
  mail: z.enum(mailServices).default('none'),
  auditDays: z.number().int().min(30, 'keep at least 30 days').max(3650, 'keep at most 10 years').default(400),
})
export type Settings = z.infer<typeof settingsSchema>

export async function readSettings(db: Knex): Promise<Settings> {
  const row: unknown = await db('settings').where({ name: 'site' }).first('value')
  return row === undefined ? settingsSchema.parse({}) : z.object({ value: jsonColumn(settingsSchema) }).parse(row).value
}

export async function writeSettings(trx: Knex, settings: Settings, author: string): Promise<void> {
  await trx('settings')
    .insert({ name: 'site', value: JSON.stringify(settings), updated_at: new Date(), updated_by: author })
    .onConflict('name')
    .merge()
}

/** What signs the links in newsletters; never leaves the servers. */
export async function readLetterKey(db: Knex): Promise<string> {
  const row: unknown = await db('settings').where({ name: 'letterKey' }).first('value')
  return row === undefined ? '' : z.object({ value: jsonColumn(z.object({ key: z.string() })) }).parse(row).value.key
}
