import { cookies } from 'next/headers'
import { log } from '@/app/log'
import { addressOf, answer, databaseAway, isOwnOrigin, notFromStudio, sessionCookies } from '@/app/request-guard'
import { SESSION_COOKIE } from '@/app/session'
import { readSession, signOut } from '@/server/accounts/sessions'
import { record } from '@/server/audit'
import { sharedDatabase } from '@/server/database/connect'

export async function POST(request: Request): Promise<Response> {
  if (!isOwnOrigin(request)) return notFromStudio()
  const db = sharedDatabase()
  try {
    const token = (await cookies()).get(SESSION_COOKIE)?.value
    const session = await readSession(db, token, false)
    await signOut(db, token)
    if (session !== null) await record(db, { account: session.account, address: addressOf(request), action: 'account.signOut' })
    return answer(200, {}, { cookies: sessionCookies(null) })
  } catch (reason) {
    log.error(reason)
    return databaseAway()
  }
}
