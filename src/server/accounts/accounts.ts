import type { Knex } from 'knex'
import type { Role } from '@/contract/contract'
import { hashPassword } from './passwords'
import { openSession } from './sessions'

export async function createAccount(
  db: Knex,
  account: { id: string; email: string; name: string; role: Role; password: string; oneTime?: boolean },
): Promise<void> {
  const { password, email, oneTime, ...rest } = account
  await db('accounts').insert({
    ...rest,
    email: email.toLowerCase(),
    password_hash: await hashPassword(password),
    one_time: oneTime ? 1 : 0,
    created_at: new Date(),
  })
}

/** Replaces a password, also a one-time one; every other session of the account ends. @returns a token for this one */
export async function choosePassword(db: Knex, account: string, password: string): Promise<string> {
  await db('accounts')
    .where({ id: account })
    .update({ password_hash: await hashPassword(password), one_time: 0 })
  await db('sessions').where({ account_id: account }).delete()
  return openSession(db, account)
}

export async function hasAccounts(db: Knex): Promise<boolean> {
  return (await db('accounts').first('id')) !== undefined
}
