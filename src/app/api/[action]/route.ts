import { cookies } from 'next/headers'
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
import { readSession } from '@/server/accounts/sessions'
import { perform } from '@/server/actions/perform'
import { sharedDatabase } from '@/server/database/connect'
import { Failure } from '@/server/failure'

export async function POST(request: Request, { params }: { params: Promise<{ action: string }> }): Promise<Response> {
  if (!isOwnOrigin(request)) return notFromStudio()
  const db = sharedDatabase()
  try {
    const session = await readSession(db, (await cookies()).get(SESSION_COOKIE)?.value, true)
    if (session?.oneTime) return answer(403, { fault: 'Choose a password of your own first.', code: 'role' })
    const asker = { account: session?.account ?? null, address: addressOf(request) }
    const { action } = await params
    const done = await perform(action, session === null ? {} : await readBody(request), asker, db, (reason) => log.error(reason))
    return answer(done.status, done.body, {
      cookies: session?.renewed ? sessionCookies(session.renewed) : [],
      retryAfter: 'retryAfter' in done ? done.retryAfter : null,
    })
  } catch (reason) {
    if (reason instanceof Failure) return refusal(reason)
    log.error(reason)
    return databaseAway()
  }
}
