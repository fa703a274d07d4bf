import type { Knex } from 'knex'
import * as z from 'zod'
import { roles, type PersonLine, type Role } from '@/contract/contract'
import { accountIdSchema, type AccountId } from '@/core/ids'
import { Failure, missing } from '../failure'

const row = z.object({
  id: accountIdSchema,
  email: z.string(),
  name: z.string(),
  role: z.enum(roles),
  disabled: z.coerce.boolean(),
  hasPassword: z.coerce.boolean(),
  seen_at: z.date().nullable(),
  link_until: z.date().nullable(),
})
export type Person = z.infer<typeof row>

/** Everybody with an account, by name, each with the link that waits for them. */
export async function listPeople(db: Knex): Promise<PersonLine[]> {
  const rows: unknown[] = await db('accounts as a')
    .leftJoin('account_links as l', (on) => on.on('l.account_id', 'a.id').andOn('l.expires_at', '>', db.raw('UTC_TIMESTAMP(3)')))
    .orderBy([{ column: 'a.disabled' }, { column: 'a.name' }])
    .limit(1000)
    .select('a.id', 'a.email', 'a.name', 'a.role', 'a.disabled', 'a.seen_at', { link_until: 'l.expires_at' })
    .select(db.raw('a.password_hash IS NOT NULL AS hasPassword'))
  return rows.map((one) => personLine(row.parse(one)))
}

function personLine({ id, email, name, role, disabled, hasPassword, seen_at: seen, link_until: until }: Person): PersonLine {
  return {
    id,
    email,
    name,
    role,
    state: disabled ? 'closed' : hasPassword ? 'open' : 'invited',
    seenAt: seen?.toISOString() ?? null,
    linkUntil: until?.toISOString() ?? null,
  }
}

/** Held until the transaction ends, with all administrators, so that two changes at once cannot leave none. */
export async function holdPerson(
  trx: Knex.Transaction,
  id: AccountId,
): Promise<{ name: string; email: string; role: Role; disabled: boolean }> {
  await trx('accounts').where({ role: 'administrator' }).orderBy('id').forUpdate().select('id')
  const found: unknown = await trx('accounts').where({ id }).forUpdate().first('name', 'email', 'role', 'disabled')
  if (found === undefined) throw missing('This person')
  return z.object({ name: z.string(), email: z.string(), role: z.enum(roles), disabled: z.coerce.boolean() }).parse(found)
}

/** @throws {Failure} where nobody would be left who can look after the accounts */
export async function refuseLastAdministrator(trx: Knex.Transaction, without: AccountId): Promise<void> {
  const left: unknown = await trx('accounts')
    .where({ role: 'administrator', disabled: 0 })
    .whereNotNull('password_hash')
    .whereNot({ id: without })
    .first('id')
  if (left === undefined)
    throw new Failure('blocked', 'This is the last administrator. Make somebody else one first, and let them sign in.')
}

/** @throws {Failure} where somebody else has this e-mail */
export async function refuseTakenEmail(trx: Knex, email: string, own: string | null): Promise<void> {
  const other: unknown = await trx('accounts')
    .where({ email: email.toLowerCase() })
    .modify((query) => void (own === null || query.whereNot({ id: own })))
    .first('name')
  if (other !== undefined)
    throw new Failure('input', `${z.object({ name: z.string() }).parse(other).name} already has the e-mail ${email}.`)
}
