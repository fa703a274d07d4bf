import type { Knex } from 'knex'
import * as z from 'zod'
import type { AccountView } from '@/contract/contract'
import { digestOfScript } from '@/serving/script-digest'
import { Failure } from '../failure'

const row = z.object({ digest: z.string() })

export async function approvedScripts(db: Knex): Promise<string[]> {
  const rows: unknown[] = await db('approved_scripts').orderBy('digest').select('digest')
  return rows.map((one) => row.parse(one).digest)
}

/**
 * Whatever brings scripts, brings them by their code: an administrator's become scripts that may run, anybody else can
 * only bring those.
 *
 * @param codes what is brought, without what was there before
 */
export async function allowScripts(trx: Knex, account: Pick<AccountView, 'role' | 'name'>, codes: readonly string[]): Promise<void> {
  if (codes.length === 0) return
  const digests = [...new Set(codes.map(digestOfScript))]
  const known: unknown[] = await trx('approved_scripts').whereIn('digest', digests).select('digest')
  const approved = new Set(known.map((one) => row.parse(one).digest))
  const fresh = digests.filter((digest) => !approved.has(digest))
  if (fresh.length === 0) return
  if (account.role !== 'administrator')
    throw new Failure('role', 'Only an administrator can write a script. The rest of your work is saved; take the script back.')
  await trx('approved_scripts')
    .insert(fresh.map((digest) => ({ digest, approved_at: new Date(), approved_by: account.name })))
    .onConflict('digest')
    .ignore()
}
