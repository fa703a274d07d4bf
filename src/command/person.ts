import * as z from 'zod'
import { emailSchema, roles, type Role } from '@/contract/contract'
import { createAccount } from '@/server/accounts/accounts'
import { makeLink } from '@/server/accounts/links'
import { signOutEverywhere } from '@/server/accounts/sessions'
import { record } from '@/server/audit'
import { connect, inTransaction } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { Failure } from '@/server/failure'
import { newId } from '@/server/new-id'
import { refuseLastAdministrator, refuseTakenEmail } from '@/server/stores/people'
import { accountIdSchema, type AccountId } from '@/core/ids'
import type { Knex } from 'knex'
import { databasePrograms, ensurePrograms } from './debian'
import { databaseRuns, startDatabase, stopDatabase } from './private-database'
import { processEnvironment, type Settings } from './settings'
import { Trouble } from './trouble'

const USAGE = `./sprig person add <e-mail> [editor|publisher|administrator]   prints a link with which they choose a password
./sprig person reset <e-mail>     prints a link to a new password, and opens the account if it was closed
./sprig person disable <e-mail>   closes the account and signs it out`

const asked = z.tuple([z.enum(['add', 'reset', 'disable']), emailSchema], z.string())
const personRow = z.object({ id: accountIdSchema, name: z.string(), role: z.enum(roles), invited: z.coerce.boolean() })

/** Looks after accounts from the command line, also where nobody can sign in any more. */
export async function person(settings: Settings, words: readonly string[]): Promise<number> {
  const parsed = asked.safeParse(words)
  if (!parsed.success) throw new Trouble(`${parsed.error.issues[0]?.message ?? ''}\n${USAGE}`)
  const [what, email, role = 'editor'] = parsed.data
  const as = z.enum(roles).safeParse(role)
  if (!as.success) throw new Trouble(`“${role}” is no role.\n${USAGE}`)
  ensurePrograms(databasePrograms)
  const ran = databaseRuns(settings)
  if (!ran) await startDatabase(settings, { throwaway: false })
  const db = connect(processEnvironment(settings))
  try {
    await migrate(db)
    console.log(await inTransaction(db, (trx) => change(trx, { what, email, role: as.data, studio: studioOf(settings) })))
    return 0
  } catch (reason) {
    throw reason instanceof Failure ? new Trouble(reason.message) : reason
  } finally {
    await db.destroy()
    if (!ran) await stopDatabase(settings)
  }
}

interface Wish {
  readonly what: 'add' | 'reset' | 'disable'
  readonly email: string
  readonly role: Role
  readonly studio: string
}

/** @returns what to say */
export async function change(trx: Knex.Transaction, { what, email, role, studio }: Wish): Promise<string> {
  const write = (id: string) =>
    record(trx, {
      account: null,
      person: 'the command line',
      address: 'this machine',
      action: 'person.command',
      thing: { kind: 'person', id },
      detail: what === 'add' ? `${what} ${email} as ${role}` : `${what} ${email}`,
    })
  if (what === 'add') {
    await refuseTakenEmail(trx, email, null)
    const id = accountIdSchema.parse(newId())
    await createAccount(trx, { id, email, name: email.split('@')[0] ?? email, role })
    await write(id)
    return linkWords(await makeLink(trx, id, 'invitation', 'the command line'), studio)
  }
  const found: unknown = await trx('accounts')
    .where({ email: email.toLowerCase() })
    .forUpdate()
    .first('id', 'name', 'role', trx.raw('password_hash IS NULL AS invited'))
  if (found === undefined) throw new Trouble(`Nobody has the e-mail ${email}.`)
  const { id, name, role: had, invited } = personRow.parse(found)
  await write(id)
  if (what === 'disable') return disable(trx, id, name, had)
  await trx('accounts').where({ id }).update({ disabled: 0 })
  return linkWords(await makeLink(trx, id, invited ? 'invitation' : 'reset', 'the command line'), studio)
}

async function disable(trx: Knex.Transaction, id: AccountId, name: string, role: Role): Promise<string> {
  if (role === 'administrator') await refuseLastAdministrator(trx, id)
  await trx('accounts').where({ id }).update({ disabled: 1 })
  await signOutEverywhere(trx, id)
  await trx('account_links').where({ account_id: id }).delete()
  return `${name} is signed out and cannot sign in any more.`
}

function linkWords({ token, until }: { token: string; until: Date }, studio: string): string {
  return `Hand this link on. It can be used once, until ${until.toISOString().slice(0, 16).replace('T', ' ')} UTC:\n${studio}/welcome/${token}`
}

function studioOf({ studioPort }: Settings): string {
  return process.env.STUDIO_ADDRESS ?? `http://localhost:${studioPort}`
}
