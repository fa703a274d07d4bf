import { cookies } from 'next/headers'
import * as z from 'zod'
import { log } from '@/app/log'
import { answer, isOwnOrigin, readBody, sessionCookies } from '@/app/request-guard'
import { SESSION_COOKIE } from '@/app/session'
import { choosePassword } from '@/server/accounts/accounts'
import { readSession } from '@/server/accounts/sessions'
import { sharedDatabase } from '@/server/database/connect'

const chosen = z.object({
  password: z
    .string()
    .min(12, 'Take at least 12 characters; four words that have nothing to do with each other are good.')
    .max(200, 'At most 200 characters.'),
})

export async function POST(request: Request): Promise<Response> {
  if (!isOwnOrigin(request)) return answer(403, { fault: 'This request did not come from the studio.', code: 'role' })
  const db = sharedDatabase()
  try {
    const session = await readSession(db, (await cookies()).get(SESSION_COOKIE)?.value, false)
    if (session === null) return answer(401, { fault: 'You are signed out. Sign in again.', code: 'signIn' })
    const parsed = chosen.safeParse(await readBody(request))
    if (!parsed.success) return answer(400, { fault: parsed.error.issues[0]?.message ?? 'Give a password.', code: 'input' })
    return answer(200, {}, sessionCookies(await choosePassword(db, session.account.id, parsed.data.password)))
  } catch (reason) {
    log.error(reason)
    return answer(503, { fault: 'The database does not answer. Try again in a moment.', code: 'broken' })
  }
}
