import type { Knex } from 'knex'
import type { AccountView } from '@/contract/contract'
import { refusal } from '@/app/request-guard'
import { Failure } from '@/server/failure'
import { sharedTakingAway } from '@/server/formats/taking-away'
import { log } from './log'

/** A file that is written while it goes out; whoever stops reading lets go of what it is read from. */
export async function takenAway(
  request: Request,
  account: AccountView,
  { name, type }: { readonly name: string; readonly type: string },
  write: (db: Knex) => AsyncGenerator<Uint8Array, void, undefined>,
): Promise<Response> {
  try {
    const file = await sharedTakingAway().begin(account.id, write)
    request.signal.addEventListener('abort', () => file.abandon(), { once: true })
    const body = new ReadableStream<Uint8Array>({
      async pull(controller) {
        try {
          const part = await file.next()
          if (part === null) controller.close()
          else controller.enqueue(part)
        } catch (reason) {
          log.error(reason)
          controller.error(reason)
        }
      },
      cancel: () => file.abandon(),
    })
    return new Response(body, {
      headers: {
        'content-type': type,
        'content-disposition': `attachment; filename="${name}"`,
        'cache-control': 'no-store',
        'x-content-type-options': 'nosniff',
      },
    })
  } catch (reason) {
    if (reason instanceof Failure) return refusal(reason)
    throw reason
  }
}
