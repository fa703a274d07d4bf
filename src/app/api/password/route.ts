import * as z from 'zod'
import { answer, door, sessionCookies } from '@/app/request-guard'
import { choosePassword, proveOwnPassword } from '@/server/accounts/accounts'
import { readSession } from '@/server/accounts/sessions'
import { recorded } from '@/server/audit'
import { sharedDatabase } from '@/server/database/connect'
import { Failure } from '@/server/failure'

const chosen = z.object({ password: z.string().max(1000), current: z.string().max(1000).default('') })

/** One's own password: the one that was given out is replaced, or the present one is proved and changed. */
export const POST = door(chosen, 'Give a password.', async ({ password, current }, { address, token }) => {
  const db = sharedDatabase()
  const session = await readSession(db, token, false)
  if (session === null) throw new Failure('signIn', 'You are signed out. Sign in again.')
  const { account } = session
  if (!session.oneTime)
    await proveOwnPassword(db, { account, address }, current, 'The password you have now is not right. Type it again.')
  const thing = { kind: 'person', id: account.id } as const
  const next = await recorded(db, { account, address, action: 'account.password', thing }, () =>
    choosePassword(db, account.id, password),
  )
  return answer(200, {}, { cookies: sessionCookies(next) })
})
