import type { Knex } from 'knex'
import * as z from 'zod'
import type { AccountView, Role } from '@/contract/contract'
import { record } from '../audit'
import type { Database } from '../database/connect'
import { Failure } from '../failure'
import { hashPassword, isPassword, passwordFault } from './passwords'
import { openSession, signOutEverywhere } from './sessions'
import { beginTry } from './throttle'

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
 * Takes another password of one's own; every other session of the account ends. Whoever asks has proved the present one,
 * or came by a link or with one that was given out.
 *
 * @returns a token for this session
 * @throws {Failure} where the new one is easy to guess, known to others, or the present one
 */
export async function choosePassword(db: Knex, account: string, password: string): Promise<string> {
  const row = ownRow.parse(await db('accounts').where({ id: account }).first())
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

/** Whether this is the present password of somebody who is signed in. */
async function isOwnPassword(db: Knex, account: string, password: string): Promise<boolean> {
  const row = ownRow.parse(await db('accounts').where({ id: account }).first())
  return isPassword(row.password_hash, password)
}

/**
 * Whoever has an open session shows that it is theirs, wherever that is asked: they guess no faster than at the door, and
 * each wrong guess is written down as there. Not in a transaction that the refusal would take back.
 *
 * @throws {Failure} where the password is not right, or comes too soon after others that were not
 */
export async function proveOwnPassword(
  db: Database,
  { account, address }: { readonly account: AccountView; readonly address: string },
  password: string,
  wrong: string,
): Promise<void> {
  const attempt = await beginTry(db, account.email, address)
  if (!(await isOwnPassword(db, account.id, password))) {
    await record(db, { account, address, action: 'account.prove' }, 'refused')
    throw new Failure('input', wrong)
  }
  await attempt.succeeded()
}

export async function hasAccounts(db: Knex): Promise<boolean> {
  return (await db('accounts').first('id')) !== undefined
}
