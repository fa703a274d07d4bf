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

const refused = () =>
  new Failure('role', 'Only an administrator can write a script. The rest of your work is saved; take the script back.')

/**
 * Whatever brings scripts, brings them by their code: an administrator's become scripts that may run, nobody else brings
 * any, also none that runs elsewhere.
 *
 * @param codes what is brought, without what was there before
 */
export async function allowScripts(
  trx: Knex,
  account: Pick<AccountView, 'role' | 'name'>,
  codes: readonly string[],
): Promise<void> {
  if (codes.length === 0) return
  if (account.role !== 'administrator') throw refused()
  const digests = [...new Set(codes.map(digestOfScript))]
  await trx('approved_scripts')
    .insert(digests.map((digest) => ({ digest, approved_at: new Date(), approved_by: account.name })))
    .onConflict('digest')
    .ignore()
}

/** What goes live in a version that is taken over: scripts that an administrator put into it, and no others. */
export async function refuseUnapproved(trx: Knex, codes: readonly string[]): Promise<void> {
  const approved = new Set(await approvedScripts(trx))
  if (codes.some((code) => !approved.has(digestOfScript(code)))) throw refused()
}
