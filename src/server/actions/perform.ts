import type * as z from 'zod'
import { contract, mayAs, type AccountView, type ActionName, type Fault } from '@/contract/contract'
import type { ChangeName } from '@/contract/changes'
import { halfCharacterIn, shortened } from '@/core/text'
import { entryFor, record, recorded } from '../audit'
import { isBusy, isDatabaseAway, isTaken, type Database } from '../database/connect'
import { Failure, statuses } from '../failure'
import type { Context } from './handler'
import { binActions } from './bin-actions'
import { goalActions } from './goal-actions'
import { notebookActions } from './notebook-actions'
import { overviewActions } from './overview-actions'
import { callActions } from './call-actions'
import { documentActions } from './document-actions'
import { findActions } from './find-actions'
import { formatActions } from './format-actions'
import { libraryActions } from './library-actions'
import { keyActions } from './key-actions'
import { lensActions } from './lens-actions'
import { letterActions } from './letter-actions'
import { orderActions } from './order-actions'
import { peopleActions } from './people-actions'
import { personalizationActions } from './personalization-actions'
import { segmentActions } from './segment-actions'
import { standInActions } from './stand-in-actions'
import { rehearsalActions } from './rehearsal-actions'
import { resultActions } from './result-actions'
import { testActions } from './test-actions'
import { trailActions } from './trail-actions'
import { versionActions } from './version-actions'
import { visitorActions } from './visitor-actions'

const handlers = {
  ...overviewActions,
  ...binActions,
  ...documentActions,
  ...libraryActions,
  ...callActions,
  ...letterActions,
  ...lensActions,
  ...formatActions,
  ...findActions,
  ...versionActions,
  ...testActions,
  ...resultActions,
  ...goalActions,
  ...standInActions,
  ...keyActions,
  ...orderActions,
  ...rehearsalActions,
  ...notebookActions,
  ...peopleActions,
  ...trailActions,
  ...segmentActions,
  ...personalizationActions,
  ...visitorActions,
}

export type Answer =
  | { readonly status: 200; readonly body: unknown }
  | { readonly status: number; readonly body: Fault; readonly retryAfter: number | null }

/** Who asks, from where. */
export interface Asker {
  readonly account: AccountView | null
  readonly address: string
}

/**
 * Runs one action of the contract: who may, what may come in, what may go out. The one door to all handlers. What changes
 * something, and what is refused for want of a role, is written into the audit trail.
 */
export async function perform(
  name: string,
  raw: unknown,
  { account, address }: Asker,
  db: Database,
  log: (reason: unknown) => void,
): Promise<Answer> {
  if (!Object.hasOwn(contract, name)) return fault('missing', `There is no action “${shortened(name, 60)}”.`)
  const action = contract[name as ActionName]
  if (account === null) return fault('signIn', 'You are signed out. Sign in again; what you typed is still here.')
  const half = halfCharacterIn(raw)
  if (half !== null) return fault('input', `${half.join(' › ') || 'the whole'}: this text holds half a character. Type it again.`)
  const input = action.input.safeParse(raw)
  if (!mayAs(account.role, action.role)) {
    if (action.changes && input.success)
      await record(db, entryFor(name as ChangeName, input.data, account, address), 'refused').catch(log)
    return fault(
      'role',
      action.role === 'publisher'
        ? 'Only a publisher can do this. Ask one to look at it; your work is saved.'
        : 'Only an administrator can do this. Ask one to look at it; your work is saved.',
    )
  }
  if (!input.success) return fault('input', inputFault(input.error))
  try {
    // The table is typed by name on both sides; the compiler cannot follow one name through both at once.
    const handler = handlers[name as ActionName] as (context: Context, input: unknown) => Promise<unknown>
    const work = () => handler({ db, account, address }, input.data)
    const done = action.changes
      ? await recorded(db, entryFor(name as ChangeName, input.data, account, address), work)
      : await work()
    return { status: 200, body: action.output.parse(done) }
  } catch (reason) {
    if (reason instanceof Failure) {
      if (reason.code === 'role' && action.changes)
        await record(db, entryFor(name as ChangeName, input.data, account, address), 'refused').catch(log)
      return fault(reason.code, reason.message, reason.retryAfter)
    }
    if (isTaken(reason))
      return fault('conflict', 'Somebody made the same at the same moment. Look at what is there now, then try again.')
    if (isBusy(reason)) return fault('busy', 'Too much was changed at the same moment. Nothing of yours was; try again.', 2)
    log(reason)
    return isDatabaseAway(reason)
      ? fault('broken', 'The database does not answer. Nothing was changed; try again in a moment.')
      : fault('broken', 'Something went wrong on the server; it has been written down there. Nothing was changed.')
  }
}

function fault(code: Fault['code'], words: string, retryAfter: number | null = null): Answer {
  return { status: statuses[code], body: { fault: words, code }, retryAfter }
}

/** What was wrong first, and where. */
function inputFault(error: z.ZodError): string {
  const [issue] = error.issues
  const place = issue?.path.join(' › ')
  return place ? `${place}: ${issue?.message}.` : `${issue?.message ?? 'not understood'}.`
}
