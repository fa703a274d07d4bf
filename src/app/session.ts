import { cookies } from 'next/headers'
import { redirect } from 'next/navigation'
import { cache } from 'react'
import type { AccountView } from '@/contract/contract'
import { readSession } from '@/server/accounts/sessions'
import { sharedDatabase } from '@/server/database/connect'

export const SESSION_COOKIE = 'sprig_session'
/** Tells a site on the same domain that an editor is looking, and nothing else. */
export const EDITOR_COOKIE = 'sprig_editor'

/** Who is signed in, asked once for each request; sends everybody else to sign in first. */
export const requireAccount = cache(async (): Promise<AccountView> => {
  const token = (await cookies()).get(SESSION_COOKIE)?.value
  const session = await readSession(sharedDatabase(), token, false)
  if (session === null) redirect('/sign-in')
  if (session.oneTime) redirect('/new-password')
  return session.account
})
