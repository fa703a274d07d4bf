import { cookies } from 'next/headers'
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
import { SESSION_COOKIE } from '@/app/session'
import { choosePassword, isOwnPassword } from '@/server/accounts/accounts'
import { readSession } from '@/server/accounts/sessions'
import { beginTry } from '@/server/accounts/throttle'
import { recorded } from '@/server/audit'
import { sharedDatabase } from '@/server/database/connect'
import { Failure } from '@/server/failure'

const chosen = z.object({ password: z.string().max(1000), current: z.string().max(1000).default('') })

/** One's own password: the one that was given out is replaced, or the present one is proved and changed. */
export async function POST(request: Request): Promise<Response> {
  if (!isOwnOrigin(request)) return notFromStudio()
  const db = sharedDatabase()
  try {
    const session = await readSession(db, (await cookies()).get(SESSION_COOKIE)?.value, false)
    if (session === null) return answer(401, { fault: 'You are signed out. Sign in again.', code: 'signIn' })
    const parsed = chosen.safeParse(await readBody(request))
    if (!parsed.success) return answer(400, { fault: 'Give a password.', code: 'input' })
    const { account } = session
    const address = addressOf(request)
    const { password, current } = parsed.data
    // Somebody who found an open session guesses no faster than at the door.
    const attempt = await beginTry(db, account.email, address)
    if (!session.oneTime && !(await isOwnPassword(db, account.id, current)))
      throw new Failure('input', 'The password you have now is not right. Type it again.')
    await attempt.succeeded()
    const thing = { kind: 'person', id: account.id } as const
    const token = await recorded(db, { account, address, action: 'account.password', thing }, () =>
      choosePassword(db, account.id, password),
    )
    return answer(200, {}, { cookies: sessionCookies(token) })
  } catch (reason) {
    if (reason instanceof Failure) return refusal(reason)
    log.error(reason)
    return databaseAway()
  }
}
