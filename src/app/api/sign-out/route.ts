import * as z from 'zod'
import { answer, door, sessionCookies } from '@/app/request-guard'
import { readSession, signOut } from '@/server/accounts/sessions'
import { record } from '@/server/audit'
import { sharedDatabase } from '@/server/database/connect'

export const POST = door(z.unknown(), 'Sign out from the studio.', async (_, { address, token }) => {
  const db = sharedDatabase()
  const session = await readSession(db, token, false)
  await signOut(db, token)
  if (session !== null) await record(db, { account: session.account, address, action: 'account.signOut' })
  return answer(200, {}, { cookies: sessionCookies(null) })
})
