import { cookies } from 'next/headers'
import { answer, isOwnOrigin, sessionCookies } from '@/app/request-guard'
import { SESSION_COOKIE } from '@/app/session'
import { signOut } from '@/server/accounts/sessions'
import { sharedDatabase } from '@/server/database/connect'

export async function POST(request: Request): Promise<Response> {
  if (!isOwnOrigin(request)) return answer(403, { fault: 'This request did not come from the studio.', code: 'role' })
  await signOut(sharedDatabase(), (await cookies()).get(SESSION_COOKIE)?.value)
  return answer(200, {}, sessionCookies(null))
}
