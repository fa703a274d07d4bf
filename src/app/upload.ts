import { createHash } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable, Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { cookies } from 'next/headers'
import { mayAs, type AccountView, type Role } from '@/contract/contract'
import { FileFault } from '@/core/formats'
import { log } from '@/app/log'
import { addressOf, answer, isFromStudio, refusal } from '@/app/request-guard'
import { SESSION_COOKIE } from '@/app/session'
import { readSession } from '@/server/accounts/sessions'
import { record, recorded } from '@/server/audit'
import type { OtherChange } from '@/contract/changes'
import { isBusy, sharedDatabase, type Database } from '@/server/database/connect'
import { Failure } from '@/server/failure'

export interface Upload {
  readonly db: Database
  readonly account: AccountView
  /** Where the file lies while it is being taken. */
  readonly path: string
  readonly query: URLSearchParams
}

interface Manner {
  /** In bytes. */
  readonly limit: number
  readonly role: Role
  readonly action: OtherChange
}

const AT_ONCE = 6
let arriving = 0

/**
 * A file that somebody who is signed in brings: from the studio itself, within its limit, and as it was sent or not at
 * all. It goes to the disk while it arrives; its length and, where the browser can tell it, its digest (RFC 9530) must
 * be those that were announced.
 */
export async function takeUpload(
  request: Request,
  { limit, role, action }: Manner,
  take: (upload: Upload) => Promise<unknown>,
): Promise<Response> {
  if (!isFromStudio(request) || request.headers.get('content-type') !== 'application/octet-stream')
    return answer(403, { fault: 'This file did not come from the studio.', code: 'role' })
  const db = sharedDatabase()
  let folder: string | null = null
  if (arriving >= AT_ONCE)
    return answer(429, { fault: 'Other files are on their way. Try again in a moment.', code: 'busy' }, { retryAfter: 5 })
  arriving++
  try {
    const session = await readSession(db, (await cookies()).get(SESSION_COOKIE)?.value, true)
    if (session === null || session.oneTime) return answer(401, { fault: 'You are signed out. Sign in again.', code: 'signIn' })
    const { account } = session
    const query = new URL(request.url).searchParams
    const entry = { account, address: addressOf(request), action, detail: query.get('title') ?? '' }
    if (!mayAs(account.role, role)) {
      await record(db, entry, 'refused')
      return answer(403, { fault: `Only an ${role} can do this.`, code: 'role' })
    }
    folder = await mkdtemp(join(tmpdir(), 'sprig-upload-'))
    const path = join(folder, 'file')
    await toDisk(request, path, limit)
    return answer(200, await recorded(db, entry, () => take({ db, account, path, query })))
  } catch (reason) {
    if (reason instanceof Failure) return refusal(reason)
    if (reason instanceof FileFault) return answer(400, { fault: `${reason.message} Nothing was taken over.`, code: 'input' })
    if (isBusy(reason))
      return answer(429, { fault: 'Too much was changed at the same moment. Try again.', code: 'busy' }, { retryAfter: 2 })
    log.error(reason)
    return answer(503, { fault: 'The file could not be taken just now. Nothing was changed; try again.', code: 'broken' })
  } finally {
    arriving--
    if (folder !== null) await rm(folder, { recursive: true, force: true }).catch((reason: unknown) => log.error(reason))
  }
}

/** @throws {Failure} where it is too large, or is not what was announced */
async function toDisk(request: Request, path: string, limit: number): Promise<void> {
  const tooLarge = () => new Failure('input', `This file is larger than ${limit / 1e6} MB.`)
  const announced = Number(request.headers.get('content-length') ?? NaN)
  if (announced > limit) throw tooLarge()
  if (request.body === null) throw new Failure('input', 'There is no file in this request.')
  const hash = createHash('sha256')
  let size = 0
  const measure = new Transform({
    transform(part: Buffer, _, done) {
      size += part.length
      hash.update(part)
      done(size > limit ? tooLarge() : null, part)
    },
  })
  try {
    await pipeline(Readable.fromWeb(request.body as Parameters<typeof Readable.fromWeb>[0]), measure, createWriteStream(path))
  } catch (reason) {
    if (reason instanceof Failure || (reason as NodeJS.ErrnoException).code === 'ENOSPC') throw reason
    throw new Failure('input', 'The file broke off on its way. Send it again.')
  }
  const digest = /^sha-256=:([A-Za-z0-9+/=]+):$/.exec(request.headers.get('content-digest') ?? '')?.[1]
  if ((!Number.isNaN(announced) && size !== announced) || (digest !== undefined && digest !== hash.digest('base64')))
    throw new Failure('input', 'The file did not arrive as it was sent. Send it again.')
}
