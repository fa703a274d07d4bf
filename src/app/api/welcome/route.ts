import * as z from 'zod'
import { answer, door, sessionCookies } from '@/app/request-guard'
import { choosePassword } from '@/server/accounts/accounts'
import { readLink, spendLink } from '@/server/accounts/links'
import { beginTry } from '@/server/accounts/throttle'
import { record } from '@/server/audit'
import { inTransaction, sharedDatabase } from '@/server/database/connect'

const chosen = z.object({ token: z.string().min(20).max(200), password: z.string().max(1000) })

/** Somebody who was invited, or forgot their password, chooses one by the link they were given. */
export const POST = door(chosen, 'Open the link again, and give a password.', async (given, { address }) => {
  const db = sharedDatabase()
  const attempt = await beginTry(db, 'a link', address)
  if ((await readLink(db, given.token)) !== null) await attempt.succeeded()
  // A password that is refused leaves the link as it was.
  const session = await inTransaction(db, async (trx) => {
    const { account, name } = await spendLink(trx, given.token)
    const token = await choosePassword(trx, account, given.password)
    const thing = { kind: 'person', id: account } as const
    await record(trx, { account: { id: account, name }, address, action: 'account.link', thing })
    return token
  })
  return answer(200, {}, { cookies: sessionCookies(session) })
})
