import type { AccountView, ActionName, Input, Output } from '@/contract/contract'
import { perform } from '@/server/actions/perform'
import { sharedDatabase } from '@/server/database/connect'
import { log } from './log'

/** What a screen will ask for at once, read with the page itself. Where that fails, the screen asks and says why. */
export async function readFirst<Name extends ActionName>(
  name: Name,
  input: Input<Name>,
  account: AccountView,
): Promise<Output<Name> | undefined> {
  const { status, body } = await perform(name, input, { account, address: '' }, sharedDatabase(), (reason) => log.error(reason))
  return status === 200 ? (body as Output<Name>) : undefined
}
