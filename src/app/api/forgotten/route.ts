import * as z from 'zod'
import { log } from '@/app/log'
import { addressOf, answer, databaseAway, isOwnOrigin, notFromStudio, readBody, refusal } from '@/app/request-guard'
import { forgotten } from '@/server/accounts/forgotten'
import { sharedDatabase } from '@/server/database/connect'
import { Failure } from '@/server/failure'
import { emailSchema } from '@/contract/contract'

const asked = z.object({ email: emailSchema })

/** The answer is the same whether there is such an account or not. */
export async function POST(request: Request): Promise<Response> {
  if (!isOwnOrigin(request)) return notFromStudio()
  const parsed = asked.safeParse(await readBody(request))
  if (!parsed.success) return answer(400, { fault: 'Give your e-mail.', code: 'input' })
  try {
    await forgotten(sharedDatabase(), parsed.data.email, addressOf(request))
    return answer(200, {})
  } catch (reason) {
    if (reason instanceof Failure) return refusal(reason)
    log.error(reason)
    return databaseAway()
  }
}
