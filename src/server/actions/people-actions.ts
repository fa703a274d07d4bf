import type { Knex } from 'knex'
import { accountIdSchema, type AccountId } from '@/core/ids'
import { createAccount, proveOwnPassword } from '../accounts/accounts'
import { handOver } from '../accounts/hand-over'
import { signOutEverywhere } from '../accounts/sessions'
import { inTransaction } from '../database/connect'
import { Failure } from '../failure'
import { newId } from '../new-id'
import { keptMails, mailService } from '../stand-ins/mail-service'
import { holdPerson, listPeople, refuseLastAdministrator, refuseTakenEmail } from '../stores/people'
import { takeLooksBack } from '../stores/looks'
import type { Area, Handlers } from './handler'

/** Who may sign in, and as what. */
export const peopleActions: Area<'person'> & Area<'self'> & Handlers<'mail.list'> = {
  'person.list': async ({ db }) => ({ people: await listPeople(db) }),

  'person.invite': ({ db, account }, { email, name, role }) =>
    inTransaction(db, async (trx) => {
      await refuseTakenEmail(trx, email, null)
      const id = accountIdSchema.parse(newId())
      await createAccount(trx, { id, email, name, role })
      return handOver(trx, { id, name, email }, 'invitation', account.name)
    }),

  'person.setRole': ({ db }, { person, role }) =>
    inTransaction(db, async (trx) => {
      const before = await holdPerson(trx, person)
      if (before.role === 'administrator' && role !== 'administrator') await refuseLastAdministrator(trx, person)
      await trx('accounts').where({ id: person }).update({ role })
      return {}
    }),

  'person.disable': ({ db, account }, { person, disabled }) =>
    inTransaction(db, async (trx) => {
      const before = await holdPerson(trx, person)
      if (disabled && person === account.id)
        throw new Failure('blocked', 'You cannot close your own account. Ask another administrator.')
      if (disabled && before.role === 'administrator') await refuseLastAdministrator(trx, person)
      await trx('accounts')
        .where({ id: person })
        .update({ disabled: disabled ? 1 : 0 })
      if (disabled) await shutOut(trx, person)
      return {}
    }),

  'person.reset': ({ db, account }, { person }) =>
    inTransaction(db, async (trx) => {
      const { name, email, disabled } = await holdPerson(trx, person)
      if (disabled) throw new Failure('blocked', 'This account is closed. Open it first.')
      const invited: unknown = await trx('accounts').where({ id: person }).whereNull('password_hash').first('id')
      return handOver(trx, { id: person, name, email }, invited === undefined ? 'reset' : 'invitation', account.name)
    }),

  'person.signOut': ({ db }, { person }) =>
    inTransaction(db, async (trx) => {
      await holdPerson(trx, person)
      await signOutEverywhere(trx, person)
      return {}
    }),

  'self.save': async ({ db, account, address }, { name, email, password }) => {
    const isOther = email.toLowerCase() !== account.email
    if (isOther)
      await proveOwnPassword(db, { account, address }, password ?? '', 'To change your e-mail, give the password you have now.')
    return inTransaction(db, async (trx) => {
      if (isOther) await refuseTakenEmail(trx, email, account.id)
      await trx('accounts').where({ id: account.id }).update({ name, email: email.toLowerCase() })
      return {}
    })
  },

  'mail.list': async ({ db }) => ({
    on: (await mailService(db)) !== null,
    mails: (await keptMails(db, 20)).map(({ seq, recipient: to, subject, body, at }) => ({
      seq,
      to,
      subject,
      body,
      at: at.toISOString(),
    })),
  }),
}

/** Every session ends, and no link that was made can be used. */
async function shutOut(trx: Knex.Transaction, person: AccountId): Promise<void> {
  await signOutEverywhere(trx, person)
  await trx('account_links').where({ account_id: person }).delete()
  await takeLooksBack(trx, { account: person })
}
