import { createHash, randomBytes } from 'node:crypto'
import type { Knex } from 'knex'
import * as z from 'zod'
import { roles, type AccountView } from '@/contract/contract'
import { record } from '../audit'
import { Failure } from '../failure'
import { isPassword } from './passwords'
import { beginTry } from './throttle'

const HOUR = 3_600_000
export const SESSION_HOURS = 12
/** A session gets a new token this often, so that a stolen one soon stops working. */
const ROTATE_AFTER = HOUR
/** Other requests of the same page may still carry the token before. */
const GRACE = 60_000
const SEEN_EVERY = 60_000

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
  const attempt = await beginTry(db, email, address)
  const row: unknown = await db('accounts').where({ email: email.toLowerCase(), disabled: 0 }).first()
  const found = row === undefined ? null : accountRow.extend({ password_hash: z.string().nullable() }).parse(row)
  if (!(await isPassword(found?.password_hash ?? null, password)) || found === null) {
    await record(db, { account: null, person: email, address, action: 'account.signIn' }, 'refused')
    throw new Failure('signIn', 'E-mail or password is not right.')
  }
  await attempt.succeeded()
  await db('sessions').where('expires_at', '<', new Date()).delete()
  const account = accountRow.parse(found)
  await record(db, { account, address, action: 'account.signIn' })
  return { token: await openSession(db, found.id), account }
}

/** Begins a session: the first of a family of tokens. */
export async function openSession(db: Knex, account: string): Promise<string> {
  return addToken(db, { account, family: randomBytes(16), expiresAt: new Date(Date.now() + SESSION_HOURS * HOUR) })
}

async function addToken(
  db: Knex,
  { account, family, expiresAt }: { account: string; family: Buffer; expiresAt: Date },
): Promise<string> {
  const token = randomBytes(32).toString('base64url')
  const now = new Date()
  await db('sessions').insert({
    token_hash: hashed(token),
    account_id: account,
    family,
    created_at: now,
    rotated_at: now,
    expires_at: expiresAt,
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
    .where('a.disabled', 0)
    .first('a.id', 'a.email', 'a.name', 'a.role', 'a.one_time', 'a.seen_at', 's.rotated_at')
  if (row === undefined) return null
  const account = accountRow.parse(row)
  const about = z.object({ rotated_at: z.date(), one_time: z.coerce.boolean(), seen_at: z.date().nullable() }).parse(row)
  if (about.seen_at === null || Date.now() - about.seen_at.getTime() > SEEN_EVERY)
    await db('accounts').where({ id: account.id }).update({ seen_at: new Date() })
  const due = mayRenew && Date.now() - about.rotated_at.getTime() > ROTATE_AFTER
  return { account, oneTime: about.one_time, renewed: due ? await renew(db, token) : null }
}

const familyRow = z.object({ account_id: z.string(), family: z.instanceof(Buffer), expires_at: z.date() })

/** Whichever of several requests at once comes first takes the token's place; the others go on with what they have. */
async function renew(db: Knex, token: string): Promise<string | null> {
  const before: unknown = await db('sessions')
    .where({ token_hash: hashed(token) })
    .first('account_id', 'family', 'expires_at')
  const taken = await db('sessions')
    .where({ token_hash: hashed(token), replaced: 0 })
    .update({ replaced: 1, rotated_at: new Date(), expires_at: db.raw('LEAST(expires_at, ?)', [new Date(Date.now() + GRACE)]) })
  if (taken === 0 || before === undefined) return null
  const { account_id: account, family, expires_at: expiresAt } = familyRow.parse(before)
  return addToken(db, { account, family, expiresAt })
}

/** Ends the session, with every token it ever had. */
export async function signOut(db: Knex, token: string | undefined): Promise<void> {
  if (token === undefined) return
  const row: unknown = await db('sessions')
    .where({ token_hash: hashed(token) })
    .first('family')
  if (row !== undefined)
    await db('sessions')
      .where({ family: z.object({ family: z.instanceof(Buffer) }).parse(row).family })
      .delete()
}

export async function signOutEverywhere(db: Knex, account: string): Promise<void> {
  await db('sessions').where({ account_id: account }).delete()
}

function hashed(token: string): Buffer {
  return createHash('sha256').update(token).digest()
}
