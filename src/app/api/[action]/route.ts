import { cookies } from 'next/headers'
import { log } from '@/app/log'
import { answer, isOwnOrigin, readBody, sessionCookies } from '@/app/request-guard'
import { SESSION_COOKIE } from '@/app/session'
import { readSession } from '@/server/accounts/sessions'
import { perform } from '@/server/actions/perform'
import { sharedDatabase } from '@/server/database/connect'

export async function POST(request: Request, { params }: { params: Promise<{ action: string }> }): Promise<Response> {
  if (!isOwnOrigin(request)) return answer(403, { fault: 'This request did not come from the studio.', code: 'role' })
  const db = sharedDatabase()
  try {
    const session = await readSession(db, (await cookies()).get(SESSION_COOKIE)?.value, true)
    if (session?.oneTime) return answer(403, { fault: 'Choose a password of your own first.', code: 'role' })
    const { status, body } = await perform(
      (await params).action,
      await readBody(request),
      session?.account ?? null,
      db,
      (reason) => log.error(reason),
    )
    return answer(status, body, session?.renewed ? sessionCookies(session.renewed) : [])
  } catch (reason) {
    log.error(reason)
    return answer(503, {
      fault: 'The database does not answer. What you typed is kept here; try again in a moment.',
      code: 'broken',
    })
  }
}
