import * as z from 'zod'
import { addressOf, answer, signedOut } from '@/app/request-guard'
import { accountOrNull } from '@/app/session'
import { takenAway } from '@/app/taken-away'
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
  const account = await accountOrNull()
  if (account === null) return signedOut()
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
  const ids = rounds.map(({ snapshot }) => snapshot.id)
  const file = {
    name: `${test}-${what}.${form}`,
    type: form === 'csv' ? 'text/csv; charset=utf-8' : 'application/x-ndjson; charset=utf-8',
  }
  return takenAway(request, account, file, (from) => openData(from, what, ids, form))
}
