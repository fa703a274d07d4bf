import type { Knex } from 'knex'
import * as z from 'zod'
import { roles, type Role } from '@/contract/contract'
import { accountIdSchema, type AccountId } from '@/core/ids'
import { record } from '../audit'
import { Failure } from '../failure'
import { newId } from '../new-id'
import { refuseLastAdministrator, refuseTakenEmail } from '../stores/people'
import { createAccount } from './accounts'
import { makeLink } from './links'
import { signOutEverywhere } from './sessions'

const personRow = z.object({ id: accountIdSchema, name: z.string(), role: z.enum(roles), invited: z.coerce.boolean() })

/** What somebody at the command line wants of an account. */
export interface Wish {
  readonly what: 'add' | 'reset' | 'disable'
  readonly email: string
  readonly role: Role
  readonly studio: string
}

/** @returns what to say @throws {Failure} where it cannot be done */
export async function changeByCommand(trx: Knex.Transaction, { what, email, role, studio }: Wish): Promise<string> {
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
  if (found === undefined) throw new Failure('missing', `Nobody has the e-mail ${email}.`)
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
