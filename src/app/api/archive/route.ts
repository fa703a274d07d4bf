import { requireAccount } from '@/app/session'
import { takeUpload } from '@/app/upload'
import { inTransaction, sharedDatabase } from '@/server/database/connect'
import { readArchive, writeArchive } from '@/server/formats/archive'

const LIMIT = 200_000_000

/** The whole site as one file. */
export async function GET(): Promise<Response> {
  await requireAccount()
  const bytes = await writeArchive(sharedDatabase())
  return new Response(Buffer.from(bytes), {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': 'attachment; filename="site.zip"',
      'cache-control': 'no-store',
    },
  })
}

/** Loads a site that was saved so. */
export function POST(request: Request): Promise<Response> {
  return takeUpload(request, LIMIT, 'administrator', ({ db, account, body }) =>
    inTransaction(db, (trx) => readArchive(trx, body, account.name)),
  )
}
