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
import { halfCharacterIn } from '@/core/text'
import { signIn } from '@/server/accounts/sessions'
import { sharedDatabase } from '@/server/database/connect'
import { Failure } from '@/server/failure'

const credentials = z.object({ email: z.string().min(3).max(254), password: z.string().min(1).max(200) })

export async function POST(request: Request): Promise<Response> {
  if (!isOwnOrigin(request)) return notFromStudio()
  const parsed = credentials.safeParse(await readBody(request))
  if (!parsed.success || halfCharacterIn(parsed.data) !== null)
    return answer(400, { fault: 'Give your e-mail and your password.', code: 'input' })
  try {
    const { token, account } = await signIn(sharedDatabase(), parsed.data.email, parsed.data.password, addressOf(request))
    return answer(200, account, { cookies: sessionCookies(token) })
  } catch (reason) {
    if (reason instanceof Failure) return refusal(reason)
    log.error(reason)
    return databaseAway()
  }
}
