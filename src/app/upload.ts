import { cookies } from 'next/headers'
import { mayAs, type AccountView, type Role } from '@/contract/contract'
import { FileFault } from '@/core/formats'
import { log } from '@/app/log'
import { answer, isFromStudio } from '@/app/request-guard'
import { SESSION_COOKIE } from '@/app/session'
import { readSession } from '@/server/accounts/sessions'
import { sharedDatabase, type Database } from '@/server/database/connect'
import { Failure } from '@/server/failure'

export interface Upload {
  readonly db: Database
  readonly account: AccountView
  readonly body: Buffer
  readonly query: URLSearchParams
}

/** A file that somebody who is signed in brings: from the studio itself, within its limit, and all of it or nothing. */
export async function takeUpload(
  request: Request,
  limit: number,
  role: Role,
  take: (upload: Upload) => Promise<unknown>,
): Promise<Response> {
  if (!isFromStudio(request) || request.headers.get('content-type') !== 'application/octet-stream')
    return answer(403, { fault: 'This file did not come from the studio.', code: 'role' })
  const db = sharedDatabase()
  try {
    const session = await readSession(db, (await cookies()).get(SESSION_COOKIE)?.value, true)
    if (session === null || session.oneTime) return answer(401, { fault: 'You are signed out. Sign in again.', code: 'signIn' })
    if (!mayAs(session.account.role, role)) return answer(403, { fault: `Only an ${role} can do this.`, code: 'role' })
    const body = await readUpTo(request, limit)
    if (body === null) return answer(413, { fault: `This file is larger than ${limit / 1e6} MB.`, code: 'input' })
    return answer(200, await take({ db, account: session.account, body, query: new URL(request.url).searchParams }))
  } catch (reason) {
    if (reason instanceof Failure) return answer(400, { fault: reason.message, code: reason.code })
    if (reason instanceof FileFault) return answer(400, { fault: `${reason.message} Nothing was taken over.`, code: 'input' })
    log.error(reason)
    return answer(503, { fault: 'The file could not be taken just now. Nothing was changed; try again.', code: 'broken' })
  }
}

/** The body, read only as far as it may go. */
async function readUpTo(request: Request, limit: number): Promise<Buffer | null> {
  if (Number(request.headers.get('content-length') ?? 0) > limit || request.body === null) return null
  const parts: Uint8Array[] = []
  let size = 0
  for await (const part of request.body as unknown as AsyncIterable<Uint8Array>) {
    size += part.length
    if (size > limit) return null
    parts.push(part)
  }
  return Buffer.concat(parts)
}
