import type { Knex } from 'knex'
import type { Role } from '@/contract/contract'
import { hashPassword } from './passwords'

export async function createAccount(
  db: Knex,
  account: { id: string; email: string; name: string; role: Role; password: string },
): Promise<void> {
  const { password, email, ...rest } = account
  await db('accounts').insert({
    ...rest,
    email: email.toLowerCase(),
    password_hash: await hashPassword(password),
    created_at: new Date(),
  })
}

export async function hasAccounts(db: Knex): Promise<boolean> {
  return (await db('accounts').first('id')) !== undefined
}
