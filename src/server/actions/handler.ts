import type { AccountView, ActionName, Output, Parsed } from '@/contract/contract'
import type { Database } from '../database/connect'

export interface Context {
  readonly db: Database
  readonly account: AccountView
  /** From where it is asked. */
  readonly address: string
}

export type Handlers<Name extends ActionName = ActionName> = {
  readonly [Of in Name]: (context: Context, input: Parsed<Of>) => Promise<Output<Of>>
}
export type Area<Prefix extends string> = Handlers<Extract<ActionName, `${Prefix}.${string}`>>
