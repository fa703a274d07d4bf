import type { Knex } from 'knex'
import * as z from 'zod'
import { record } from '../audit'
import { inTransaction } from '../database/connect'
import { Failure } from '../failure'
import { mailService } from '../stand-ins/mail-service'
import { handOver } from './hand-over'
import { beginTry } from './throttle'

const row = z.object({ id: z.string(), name: z.string(), email: z.string(), invited: z.coerce.boolean() })

/**
 * Sends a link to a new password to whoever has this e-mail, and says nothing of whether anybody has.
 *
 * @throws {Failure} where no mail service is set, so that nobody waits for a mail; or after asking too often
 */
export async function forgotten(db: Knex, email: string, address: string): Promise<{ readonly sending: Promise<void> }> {
  if ((await mailService(db)) === null)
    throw new Failure('blocked', 'This studio sends no mail. Ask an administrator for a link to a new password.')
  // Never taken back: asking again and again fills a mailbox, whether it is one's own or not.
  await beginTry(db, `forgotten ${email}`, address)
  return { sending: send(db, email, address) }
}

/** Not waited for by whoever asks: how long it takes would say whether there is such an account. */
async function send(db: Knex, email: string, address: string): Promise<void> {
  await inTransaction(db, async (trx) => {
    const found: unknown = await trx('accounts')
      .where({ email: email.toLowerCase(), disabled: 0 })
      .first('id', 'name', 'email', trx.raw('password_hash IS NULL AS invited'))
    if (found === undefined) return
    const { invited, ...person } = row.parse(found)
    await handOver(trx, person, invited ? 'invitation' : 'reset', 'themselves')
    await record(trx, { account: person, address, action: 'account.forgot', thing: { kind: 'person', id: person.id } })
  })
}
