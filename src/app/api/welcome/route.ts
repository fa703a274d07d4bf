import * as z from 'zod'
import { log } from '@/app/log'
import {
  addressOf,
  answer,
  databaseAway,
  isOwnOrigin,
  notFromStudio,
  readBody,
  refusal,
  sessionCookies,
} from '@/app/request-guard'
import { choosePassword } from '@/server/accounts/accounts'
import { readLink, spendLink } from '@/server/accounts/links'
import { beginTry } from '@/server/accounts/throttle'
import { record } from '@/server/audit'
import { inTransaction, sharedDatabase } from '@/server/database/connect'
import { Failure } from '@/server/failure'

const chosen = z.object({ token: z.string().min(20).max(200), password: z.string().max(1000) })

/** Somebody who was invited, or forgot their password, chooses one by the link they were given. */
export async function POST(request: Request): Promise<Response> {
  if (!isOwnOrigin(request)) return notFromStudio()
  const parsed = chosen.safeParse(await readBody(request))
  if (!parsed.success) return answer(400, { fault: 'Open the link again, and give a password.', code: 'input' })
  const db = sharedDatabase()
  const address = addressOf(request)
  try {
    const attempt = await beginTry(db, 'a link', address)
    if ((await readLink(db, parsed.data.token)) !== null) await attempt.succeeded()
    // A password that is refused leaves the link as it was.
    const session = await inTransaction(db, async (trx) => {
      const { account, name } = await spendLink(trx, parsed.data.token)
      const token = await choosePassword(trx, account, parsed.data.password)
      const thing = { kind: 'person', id: account } as const
      await record(trx, { account: { id: account, name }, address, action: 'account.link', thing })
      return token
    })
    return answer(200, {}, { cookies: sessionCookies(session) })
  } catch (reason) {
    if (reason instanceof Failure) return refusal(reason)
    log.error(reason)
    return databaseAway()
  }
}
