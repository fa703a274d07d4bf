import { cookies } from 'next/headers'
import { redirect } from 'next/navigation'
import { cache } from 'react'
import type { AccountView } from '@/contract/contract'
import { readSession } from '@/server/accounts/sessions'
import { sharedDatabase } from '@/server/database/connect'

export const SESSION_COOKIE = 'sprig_session'
/** Tells a site on the same domain that an editor is looking, and nothing else. */
export const EDITOR_COOKIE = 'sprig_editor'

const sessionNow = cache(async () => readSession(sharedDatabase(), (await cookies()).get(SESSION_COOKIE)?.value, false))

/** Who is signed in, asked once for each request; sends everybody else to sign in first. */
export async function requireAccount(): Promise<AccountView> {
  const session = await sessionNow()
  if (session === null) redirect('/sign-in')
  if (session.oneTime) redirect('/new-password')
  return session.account
}

/** Who is signed in, for files and whatever else is no page: nobody is sent to a page in place of it. */
export async function accountOrNull(): Promise<AccountView | null> {
  const session = await sessionNow()
  return session === null || session.oneTime ? null : session.account
}
