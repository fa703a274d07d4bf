import * as z from 'zod'
import { log } from '@/app/log'
import { answer, door } from '@/app/request-guard'
import { emailSchema } from '@/contract/contract'
import { forgotten } from '@/server/accounts/forgotten'
import { sharedDatabase } from '@/server/database/connect'

/** The answer is the same whether there is such an account or not. */
export const POST = door(z.object({ email: emailSchema }), 'Give your e-mail.', async ({ email }, { address }) => {
  const { sending } = await forgotten(sharedDatabase(), email, address)
  sending.catch((reason: unknown) => log.error(reason))
  return answer(200, {})
})
