import type * as z from 'zod'
import { contract, mayAs, type AccountView, type ActionName, type Fault } from '@/contract/contract'
import type { Database } from '../database/connect'
import { Failure } from '../failure'
import type { Context } from './handler'
import { goalActions } from './goal-actions'
import { notebookActions } from './notebook-actions'
import { overviewActions } from './overview-actions'
import { callActions } from './call-actions'
import { documentActions } from './document-actions'
import { formatActions } from './format-actions'
import { libraryActions } from './library-actions'
import { keyActions } from './key-actions'
import { letterActions } from './letter-actions'
import { orderActions } from './order-actions'
import { standInActions } from './stand-in-actions'
import { rehearsalActions } from './rehearsal-actions'
import { resultActions } from './result-actions'
import { testActions } from './test-actions'
import { versionActions } from './version-actions'

const handlers = {
  ...overviewActions,
  ...documentActions,
  ...libraryActions,
  ...callActions,
  ...letterActions,
  ...formatActions,
  ...versionActions,
  ...testActions,
  ...resultActions,
  ...goalActions,
  ...standInActions,
  ...keyActions,
  ...orderActions,
  ...rehearsalActions,
  ...notebookActions,
}

export type Answer = { readonly status: 200; readonly body: unknown } | { readonly status: number; readonly body: Fault }

const statuses: { readonly [Code in Fault['code']]: number } = {
  input: 400,
  signIn: 401,
  role: 403,
  missing: 404,
  conflict: 409,
  blocked: 422,
  busy: 429,
  broken: 500,
}

/** Runs one action of the contract: who may, what may come in, what may go out. The one door to all handlers. */
export async function perform(
  name: string,
  raw: unknown,
  account: AccountView | null,
  db: Database,
  log: (reason: unknown) => void,
): Promise<Answer> {
  if (!(name in contract)) return fault('missing', `There is no action “${name.slice(0, 60)}”.`)
  const action = contract[name as ActionName]
  if (account === null) return fault('signIn', 'You are signed out. Sign in again; what you typed is still here.')
  if (!mayAs(account.role, action.role))
    return fault(
      'role',
      action.role === 'publisher'
        ? 'Only a publisher can do this. Ask one to look at it; your work is saved.'
        : 'Only an administrator can do this. Ask one to look at it; your work is saved.',
    )
  const input = action.input.safeParse(raw)
  if (!input.success) return fault('input', inputFault(input.error))
  try {
    // The table is typed by name on both sides; the compiler cannot follow one name through both at once.
    const handler = handlers[name as ActionName] as (context: Context, input: unknown) => Promise<unknown>
    return { status: 200, body: action.output.parse(await handler({ db, account }, input.data)) }
  } catch (reason) {
    if (reason instanceof Failure) return fault(reason.code, reason.message)
    log(reason)
    return isDatabaseAway(reason)
      ? fault('broken', 'The database does not answer. Nothing was changed; try again in a moment.')
      : fault('broken', 'Something went wrong on the server; it has been written down there. Nothing was changed.')
  }
}

function fault(code: Fault['code'], words: string): Answer {
  return { status: statuses[code], body: { fault: words, code } }
}

/** What was wrong first, and where. */
function inputFault(error: z.ZodError): string {
  const [issue] = error.issues
  const place = issue?.path.join(' › ')
  return place ? `${place}: ${issue?.message}.` : `${issue?.message ?? 'not understood'}.`
}

function isDatabaseAway(reason: unknown): boolean {
  const code = (reason as { code?: unknown } | null)?.code
  return typeof code === 'string' && (/^(ECONN|ETIMEDOUT|PROTOCOL_|ER_SERVER_SHUTDOWN|EPIPE)/.test(code) || code === 'ENOTFOUND')
}
