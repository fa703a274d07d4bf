import { createHash, randomBytes } from 'node:crypto'
import type { Knex } from 'knex'
import * as z from 'zod'
import { Failure } from '../failure'

const DAY = 86_400_000
/** How long a link can be used. */
export const LINK_LIFE = { invitation: 3 * DAY, reset: DAY } as const
export type LinkKind = keyof typeof LINK_LIFE

/** Makes a link that can be used once; those that were made for the same person before cannot be used any more. */
export async function makeLink(trx: Knex, account: string, kind: LinkKind, by: string): Promise<{ token: string; until: Date }> {
  const token = randomBytes(32).toString('base64url')
  const until = new Date(Date.now() + LINK_LIFE[kind])
  await trx('account_links').where({ account_id: account }).delete()
  await trx('account_links').insert({ hash: hashed(token), account_id: account, kind, expires_at: until, created_by: by })
  return { token, until }
}

const row = z.object({ account_id: z.string(), kind: z.enum(['invitation', 'reset']), name: z.string(), email: z.string() })
export type OpenLink = { readonly account: string; readonly kind: LinkKind; readonly name: string; readonly email: string }

/** Whose link this is; `null` where it was used, is too old, or never was one. */
export async function readLink(db: Knex, token: string): Promise<OpenLink | null> {
  const found: unknown = await db('account_links as l')
    .join('accounts as a', 'a.id', 'l.account_id')
    .where('l.hash', hashed(token))
    .where('l.expires_at', '>', new Date())
    .where('a.disabled', 0)
    .first('l.account_id', 'l.kind', 'a.name', 'a.email')
  if (found === undefined) return null
  const { account_id: account, ...rest } = row.parse(found)
  return { account, ...rest }
}

/**
 * Takes the link for good, in the transaction of what it is used for: of two at once, one gets it.
 *
 * @throws {Failure} where it cannot be used any more
 */
export async function spendLink(trx: Knex.Transaction, token: string): Promise<OpenLink> {
  const link = await readLink(trx, token)
  const gone =
    link === null
      ? 0
      : await trx('account_links')
          .where({ hash: hashed(token) })
          .delete()
  if (link === null || gone === 0)
    throw new Failure('missing', 'This link has been used, or is too old. Ask an administrator for another one.')
  return link
}

function hashed(token: string): Buffer {
  return createHash('sha256').update(token.slice(0, 200)).digest()
}
