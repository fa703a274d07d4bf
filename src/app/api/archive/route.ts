import { addressOf, answer, signedOut } from '@/app/request-guard'
import { accountOrNull } from '@/app/session'
import { takenAway } from '@/app/taken-away'
import { takeUpload } from '@/app/upload'
import { mayAs } from '@/contract/contract'
import { record } from '@/server/audit'
import { sharedDatabase } from '@/server/database/connect'
import { lookAtArchive, readArchive, writeArchive } from '@/server/formats/archive'

const LIMIT = 200_000_000

/** The whole site as one file, written while it goes out: for who may also load one. */
export async function GET(request: Request): Promise<Response> {
  const account = await accountOrNull()
  if (account === null) return signedOut()
  const db = sharedDatabase()
  const entry = { account, address: addressOf(request), action: 'archive.save' as const }
  if (!mayAs(account.role, 'administrator')) {
    await record(db, entry, 'refused')
    return answer(403, { fault: 'Only an administrator can save the whole site.', code: 'role' })
  }
  await record(db, entry)
  return takenAway(request, account, { name: 'site.zip', type: 'application/zip' }, writeArchive)
}

/** Loads a site that was saved so; with `look`, only says what loading it would do. */
export function POST(request: Request): Promise<Response> {
  const look = new URL(request.url).searchParams.has('look')
  return takeUpload(
    request,
    { limit: LIMIT, role: 'administrator', action: look ? 'archive.look' : 'archive.load' },
    ({ db, account, path }) => (look ? lookAtArchive(db, path) : readArchive(db, path, account)),
  )
}
