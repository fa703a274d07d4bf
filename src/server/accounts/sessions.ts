import { createHash, randomBytes } from 'node:crypto'
import type { Knex } from 'knex'
import * as z from 'zod'
import { roles, type AccountView } from '@/contract/contract'
import { Failure } from '../failure'
import { isPassword } from './passwords'

const HOUR = 3_600_000
export const SESSION_HOURS = 12
/** A session gets a new token this often, so that a stolen one soon stops working. */
const ROTATE_AFTER = HOUR
const TRIES = 8
/** Many people may come from one address, so it takes more to close it. */
const TRIES_FROM_ONE_ADDRESS = 60
const TRY_WINDOW = 15 * 60_000

const failuresRow = z.object({ subject: z.instanceof(Buffer), tries: z.coerce.number() })
const accountRow = z.object({ id: z.string(), email: z.string(), name: z.string(), role: z.enum(roles) })

export interface OpenSession {
  readonly account: AccountView
  /** The password was given out and is good for one thing only: choosing another. */
  readonly oneTime: boolean
  /** A new token for the cookie, when this one was due. */
  readonly renewed: string | null
}

/** @throws {Failure} without saying whether the account or the password was wrong, and after too many tries at either */
export async function signIn(
  db: Knex,
  email: string,
  password: string,
  address: string,
): Promise<{ token: string; account: AccountView }> {
  const subjects = [`email:${email.toLowerCase().slice(0, 150)}`, `address:${address.slice(0, 60)}`]
  const since = new Date(Date.now() - TRY_WINDOW)
  const tries: unknown[] = await db('sign_in_failures')
    .whereIn('subject', subjects)
    .where('at', '>', since)
    .groupBy('subject')
    .select('subject')
    .count({ tries: '*' })
  const tooMany = tries
    .map((row) => failuresRow.parse(row))
    .some(({ subject, tries: count }) => count >= (subject.toString().startsWith('email:') ? TRIES : TRIES_FROM_ONE_ADDRESS))
  if (tooMany) throw new Failure('busy', 'Too many tries with a wrong password. Wait a quarter of an hour and try again.')

  const row: unknown = await db('accounts').where({ email: email.toLowerCase() }).first()
  const found = row === undefined ? null : accountRow.extend({ password_hash: z.string() }).parse(row)
  if (!(await isPassword(found?.password_hash ?? null, password)) || found === null) {
    await db('sign_in_failures').insert(subjects.map((subject) => ({ subject, at: new Date() })))
    throw new Failure('signIn', 'E-mail or password is not right.')
  }
  await db('sign_in_failures').whereIn('subject', subjects).delete()
  await db('sign_in_failures').where('at', '<', since).delete()
  await db('sessions').where('expires_at', '<', new Date()).delete()
  return { token: await openSession(db, found.id), account: accountRow.parse(found) }
}

export async function openSession(db: Knex, account: string): Promise<string> {
  const token = randomBytes(32).toString('base64url')
  const now = Date.now()
  await db('sessions').insert({
    token_hash: hashed(token),
    account_id: account,
    created_at: new Date(now),
    rotated_at: new Date(now),
    expires_at: new Date(now + SESSION_HOURS * HOUR),
  })
  return token
}

/** Whose session this is, or `null`. */
export async function readSession(db: Knex, token: string | undefined, mayRenew: boolean): Promise<OpenSession | null> {
  if (token === undefined || token.length > 100) return null
  const row: unknown = await db('sessions as s')
    .join('accounts as a', 'a.id', 's.account_id')
    .where('s.token_hash', hashed(token))
    .where('s.expires_at', '>', new Date())
    .first('a.id', 'a.email', 'a.name', 'a.role', 'a.one_time', 's.rotated_at')
  if (row === undefined) return null
  const account = accountRow.parse(row)
  const { rotated_at: rotatedAt, one_time: oneTime } = z.object({ rotated_at: z.date(), one_time: z.coerce.boolean() }).parse(row)
  const due = mayRenew && Date.now() - rotatedAt.getTime() > ROTATE_AFTER
  return { account, oneTime, renewed: due ? await renew(db, token) : null }
}

/** The old token lives on for a minute: other requests of the same page may still carry it. */
async function renew(db: Knex, token: string): Promise<string | null> {
  const row: unknown = await db('sessions')
    .where({ token_hash: hashed(token) })
    .first('account_id', 'expires_at')
  if (row === undefined) return null
  const { account_id, expires_at } = z.object({ account_id: z.string(), expires_at: z.date() }).parse(row)
  const next = randomBytes(32).toString('base64url')
  await db('sessions').insert({
    token_hash: hashed(next),
    account_id,
    created_at: new Date(),
    rotated_at: new Date(),
    expires_at,
  })
  await db('sessions')
    .where({ token_hash: hashed(token) })
    .update({ rotated_at: new Date(), expires_at: new Date(Date.now() + 60_000) })
  return next
}

export async function signOut(db: Knex, token: string | undefined): Promise<void> {
  if (token !== undefined)
    await db('sessions')
      .where({ token_hash: hashed(token) })
      .delete()
}

function hashed(token: string): Buffer {
  return createHash('sha256').update(token).digest()
}
