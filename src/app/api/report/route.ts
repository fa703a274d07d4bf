import { log } from '@/app/log'
import { answer, signedOut } from '@/app/request-guard'
import { accountOrNull } from '@/app/session'
import { testIdSchema } from '@/core/ids'
import { testReport } from '@/server/actions/test-report'
import { sharedDatabase } from '@/server/database/connect'
import { Failure, statuses } from '@/server/failure'

/** A test as something to read, in Markdown. */
export async function GET(request: Request): Promise<Response> {
  if ((await accountOrNull()) === null) return signedOut()
  const test = testIdSchema.safeParse(new URL(request.url).searchParams.get('test'))
  if (!test.success) return answer(400, { fault: 'A report is asked for by a test.', code: 'input' })
  try {
    return new Response(await testReport(sharedDatabase(), test.data), {
      headers: {
        'content-type': 'text/markdown; charset=utf-8',
        'content-disposition': `attachment; filename="${test.data}.md"`,
        'cache-control': 'no-store',
        'x-content-type-options': 'nosniff',
      },
    })
  } catch (reason) {
    if (reason instanceof Failure) return answer(statuses[reason.code], { fault: reason.message, code: reason.code })
    log.error(reason)
    return answer(500, { fault: 'The report could not be written.', code: 'broken' })
  }
}
