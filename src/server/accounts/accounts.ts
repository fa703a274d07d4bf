import type { Knex } from 'knex'
import * as z from 'zod'
import type { Role } from '@/contract/contract'
import { Failure } from '../failure'
import { hashPassword, isPassword, passwordFault } from './passwords'
import { openSession, signOutEverywhere } from './sessions'

/** @param account without a password for somebody who is invited to choose one */
export async function createAccount(
  db: Knex,
  account: { id: string; email: string; name: string; role: Role; password?: string; oneTime?: boolean },
): Promise<void> {
  const { password, email, oneTime, ...rest } = account
  await db('accounts').insert({
    ...rest,
    email: email.toLowerCase(),
    password_hash: password === undefined ? null : await hashPassword(password),
    one_time: oneTime ? 1 : 0,
    created_at: new Date(),
  })
}

const ownRow = z.object({
  email: z.string(),
  name: z.string(),
  password_hash: z.string().nullable(),
  one_time: z.coerce.boolean(),
})

/**
 * Takes another password of one's own; every other session of the account ends.
 *
 * @param current what it was; not asked for where that was given out for one use, or a link is in its place (`null`)
 * @returns a token for this session
 * @throws {Failure} where the current one is wrong, or the new one is easy to guess or known to others
 */
export async function choosePassword(db: Knex, account: string, password: string, current: string | null): Promise<string> {
  const row = ownRow.parse(await db('accounts').where({ id: account }).first())
  const given = row.one_time || row.password_hash === null
  if (!given && current !== null && !(await isPassword(row.password_hash, current)))
    throw new Failure('input', 'The password you have now is not right. Type it again.')
  const fault = passwordFault(password, [row.email, row.name])
  if (fault !== null) throw new Failure('input', fault)
  if (row.password_hash !== null && (await isPassword(row.password_hash, password)))
    throw new Failure('input', 'This is the password you have now. Take another one.')
  await db('accounts')
    .where({ id: account })
    .update({ password_hash: await hashPassword(password), one_time: 0 })
  await signOutEverywhere(db, account)
  return openSession(db, account)
}

/** Whether a password has to be proved before another is chosen. */
export async function isOwnPassword(db: Knex, account: string, password: string): Promise<boolean> {
  const row = ownRow.parse(await db('accounts').where({ id: account }).first())
  return isPassword(row.password_hash, password)
}

export async function hasAccounts(db: Knex): Promise<boolean> {
  return (await db('accounts').first('id')) !== undefined
}
