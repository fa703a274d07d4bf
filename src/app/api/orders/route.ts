import { readFile } from 'node:fs/promises'
import { takeUpload } from '@/app/upload'
import { inTransaction } from '@/server/database/connect'
import { readApart } from '@/server/formats/apart'
import { keepTable } from '@/server/stores/order-tables'
import { readSettings } from '@/server/stores/settings'

/** Some 250,000 lines. */
const LIMIT = 20_000_000

/** A table of orders: it is kept, and whoever sent it is told what its columns look like. */
export function POST(request: Request): Promise<Response> {
  return takeUpload(request, { limit: LIMIT, role: 'publisher', action: 'order.look' }, async ({ db, account, path, query }) => {
    const body = await readFile(path)
    const columns = await readApart({ kind: 'orderColumns', bytes: body })
    const about = { name: query.get('title') ?? '', lines: columns.lines, account }
    const table = await inTransaction(db, (trx) => keepTable(trx, body, about))
    return { table, ...columns, timeZone: (await readSettings(db)).timeZone }
  })
}
