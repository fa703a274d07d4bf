import { headers } from 'next/headers'
import { answer } from '@/app/request-guard'
import { requireAccount } from '@/app/session'
import { streamed } from '@/app/streamed'
import { takeUpload } from '@/app/upload'
import { mayAs } from '@/contract/contract'
import { record } from '@/server/audit'
import { sharedDatabase } from '@/server/database/connect'
import { lookAtArchive, readArchive, writeArchive } from '@/server/formats/archive'
import { CLIENT_ADDRESS } from '@/serving/client-address-header'

const LIMIT = 200_000_000

/** The whole site as one file, written while it goes out: for who may also load one. */
export async function GET(): Promise<Response> {
  const account = await requireAccount()
  const db = sharedDatabase()
  const entry = { account, address: (await headers()).get(CLIENT_ADDRESS) ?? 'unknown', action: 'archive.save' as const }
  if (!mayAs(account.role, 'administrator')) {
    await record(db, entry, 'refused')
    return answer(403, { fault: 'Only an administrator can save the whole site.', code: 'role' })
  }
  await record(db, entry)
  return new Response(streamed(writeArchive(db)), {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': 'attachment; filename="site.zip"',
      'cache-control': 'no-store',
      'x-content-type-options': 'nosniff',
    },
  })
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
