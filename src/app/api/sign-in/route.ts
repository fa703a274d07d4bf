import * as z from 'zod'
import { log } from '@/app/log'
import { answer, isOwnOrigin, readBody, sessionCookies } from '@/app/request-guard'
import { signIn } from '@/server/accounts/sessions'
import { sharedDatabase } from '@/server/database/connect'
import { Failure } from '@/server/failure'

const credentials = z.object({ email: z.string().min(3).max(254), password: z.string().min(1).max(200) })

export async function POST(request: Request): Promise<Response> {
  if (!isOwnOrigin(request)) return answer(403, { fault: 'This request did not come from the studio.', code: 'role' })
  const parsed = credentials.safeParse(await readBody(request))
  if (!parsed.success) return answer(400, { fault: 'Give your e-mail and your password.', code: 'input' })
  try {
    const { token, account } = await signIn(
      sharedDatabase(),
      parsed.data.email,
      parsed.data.password,
      request.headers.get('x-forwarded-for')?.split(',')[0] ?? 'local',
    )
    return answer(200, account, sessionCookies(token))
  } catch (reason) {
    if (reason instanceof Failure) return answer(reason.code === 'busy' ? 429 : 401, { fault: reason.message, code: reason.code })
    log.error(reason)
    return answer(503, { fault: 'The database does not answer. Try again in a moment.', code: 'broken' })
  }
}
