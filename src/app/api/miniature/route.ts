import { answer, signedOut } from '@/app/request-guard'
import { accountOrNull } from '@/app/session'
import { log } from '@/app/log'
import { drawnMiniature, miniatureQuery } from '@/server/actions/miniatures'
import { sharedDatabase } from '@/server/database/connect'
import { Failure, statuses } from '@/server/failure'

/** A part of a page, small, for the sheets of the studio: markup alone, in which nothing can run. */
export async function GET(request: Request): Promise<Response> {
  if ((await accountOrNull()) === null) return signedOut()
  const query = miniatureQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams))
  if (!query.success) return answer(400, { fault: 'A miniature is asked for by a document and a part of it.', code: 'input' })
  try {
    return new Response(await drawnMiniature(sharedDatabase(), query.data, request.signal), {
      headers: {
        'content-type': 'text/html; charset=utf-8',
        // What stands around the part, a menu or a style, may change without its address changing.
        'cache-control': 'private, max-age=60',
        'x-content-type-options': 'nosniff',
        'referrer-policy': 'same-origin',
        'content-security-policy':
          "default-src 'none'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; media-src 'self'; font-src 'self' data:; frame-ancestors 'self'",
      },
    })
  } catch (reason) {
    if (reason instanceof Failure) return answer(statuses[reason.code], { fault: reason.message, code: reason.code })
    if (request.signal.aborted) return answer(503, { fault: 'Nobody waits for it any more.', code: 'busy' })
    log.error(reason)
    return answer(500, { fault: 'It could not be drawn.', code: 'fault' })
  }
}
