import * as z from 'zod'
import { answer, door } from '@/app/request-guard'
import { emailSchema } from '@/contract/contract'
import { forgotten } from '@/server/accounts/forgotten'
import { sharedDatabase } from '@/server/database/connect'

/** The answer is the same whether there is such an account or not. */
export const POST = door(z.object({ email: emailSchema }), 'Give your e-mail.', async ({ email }, { address }) => {
  await forgotten(sharedDatabase(), email, address)
  return answer(200, {})
})
