import { contract, type AccountView, type ActionName, type Input, type Output } from '@/contract/contract'
import { perform } from '@/server/actions/perform'
import type { Database } from '@/server/database/connect'

/** Whose work the sample site is. */
export const author = 'Wilma Osk'
/** The history is made with all rights; what each account may do is another matter. */
const maker: AccountView = { id: 'wilma', email: 'wilma@pinemoth.example', name: author, role: 'administrator' }

/** The demo is made by the same actions as an editor's work. */
export async function act<Name extends ActionName>(db: Database, name: Name, input: Input<Name>): Promise<Output<Name>> {
  let cause: unknown = null
  const answer = await perform(name, input, { account: maker, address: 'the demo' }, db, (reason) => (cause = reason))
  if (answer.status !== 200) throw new Error(`${name}: ${JSON.stringify(answer.body)}`, { cause })
  return contract[name].output.parse(answer.body) as Output<Name>
}
