import * as z from 'zod'
import { addressOf, answer } from '@/app/request-guard'
import { requireAccount } from '@/app/session'
import { streamed } from '@/app/streamed'
import { mayAs } from '@/contract/contract'
import { dataDictionary, dataSetNames, dataSets, type DataSetName } from '@/core/formats'
import { testIdSchema } from '@/core/ids'
import { record } from '@/server/audit'
import { sharedDatabase } from '@/server/database/connect'
import { dataForms, openData } from '@/server/formats/open-data'
import { roundsOf, testNumber } from '@/server/stores/tests'

const query = z.object({
  test: testIdSchema,
  what: z.enum(dataSetNames as [DataSetName, ...DataSetName[]]),
  as: z.enum(dataForms).default('csv'),
})

/** What a test has counted, as a file that is written while it goes out; without a question, what there is to ask for. */
export async function GET(request: Request): Promise<Response> {
  const account = await requireAccount()
  const { searchParams } = new URL(request.url)
  if (searchParams.size === 0)
    return new Response(dataDictionary(), { headers: { 'content-type': 'text/markdown; charset=utf-8' } })
  const asked = query.safeParse(Object.fromEntries(searchParams))
  if (!asked.success)
    return answer(400, {
      fault: `Ask for a “test” and for “what”: one of ${dataSetNames.join(', ')}; “as” csv or ndjson.`,
      code: 'input',
    })
  const { test, what, as: form } = asked.data
  const db = sharedDatabase()
  if (dataSets[what].ofVisitors) {
    const entry = { account, address: addressOf(request), action: 'data.take' as const }
    const may = mayAs(account.role, 'administrator')
    await record(db, entry, may ? 'done' : 'refused')
    if (!may) return answer(403, { fault: 'What is of visitors one by one is for administrators.', code: 'role' })
  }
  const rounds = await roundsOf(db, testNumber(test))
  if (rounds.length === 0) return answer(404, { fault: 'This test has not counted anything yet.', code: 'missing' })
  const chunks = openData(
    db,
    what,
    rounds.map(({ snapshot }) => snapshot.id),
    form,
  )
  return new Response(streamed(chunks), {
    headers: {
      'content-type': form === 'csv' ? 'text/csv; charset=utf-8' : 'application/x-ndjson; charset=utf-8',
      'content-disposition': `attachment; filename="${test}-${what}.${form}"`,
      'cache-control': 'no-store',
      'x-content-type-options': 'nosniff',
    },
  })
}
