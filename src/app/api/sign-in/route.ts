import * as z from 'zod'
import { answer, door, sessionCookies } from '@/app/request-guard'
import { halfCharacterIn } from '@/core/text'
import { signIn } from '@/server/accounts/sessions'
import { sharedDatabase } from '@/server/database/connect'

const credentials = z
  .object({ email: z.string().min(3).max(254), password: z.string().min(1).max(200) })
  .refine((given) => halfCharacterIn(given) === null)

export const POST = door(credentials, 'Give your e-mail and your password.', async ({ email, password }, { address }) => {
  const { token, account } = await signIn(sharedDatabase(), email, password, address)
  return answer(200, account, { cookies: sessionCookies(token) })
})
