import { AsyncLocalStorage } from 'node:async_hooks'
import type { Knex } from 'knex'
import { changes, type ChangeName, type OtherChange, type Thing } from '@/contract/changes'
import type { AccountView } from '@/contract/contract'
import { shortened } from '@/core/text'

/** What is written down of something that somebody did, or was refused. */
export interface Entry {
  readonly account: Pick<AccountView, 'id' | 'name'> | null
  /** Who it was, where there is no account: an e-mail that was tried, the command line. */
  readonly person?: string
  readonly address: string
  readonly action: ChangeName | OtherChange
  readonly thing?: Thing | { readonly kind: ''; readonly id: '' }
  readonly detail?: string
}

interface Pending {
  readonly entry: Entry
  written: boolean
}

const pending = new AsyncLocalStorage<Pending>()

/** Does something and writes it down: in its own transaction, so that neither is there without the other. */
export async function recorded<Done>(db: Knex, entry: Entry, work: () => Promise<Done>): Promise<Done> {
  const own: Pending = { entry, written: false }
  const done = await pending.run(own, work)
  if (!own.written) await record(db, entry)
  return done
}

/** For `inTransaction`: writes what is being done into the transaction that does it. @returns to be called once it is there for good */
export async function writePending(trx: Knex.Transaction): Promise<() => void> {
  const own = pending.getStore()
  if (own === undefined || own.written) return () => undefined
  await record(trx, own.entry)
  return () => void (own.written = true)
}

export async function record(db: Knex, entry: Entry, outcome: 'done' | 'refused' = 'done'): Promise<void> {
  const { account, person, address, action, thing, detail = '' } = entry
  await db('audit_trail').insert({
    at: new Date(),
    account_id: account?.id ?? null,
    person: shortened(account?.name ?? person ?? '', 120),
    address: shortened(address, 60),
    action,
    outcome,
    thing_kind: thing?.kind ?? '',
    thing: shortened(thing?.id ?? '', 200),
    detail: shortened(detail, 500),
  })
}

/** Not for the trail: what is long, secret, or says nothing to a person. */
const unsaid = new Set(['lock', 'base', 'text', 'password', 'current', 'id', 'document', 'test', 'goal', 'person', 'node'])

/** Visitors are erased, and the trail stays: it never has a whole number of one. */
const isVisitor = (value: unknown) => typeof value === 'string' && /^[0-9a-f]{32}$/.test(value)

/** An action of the contract as an entry: what it is about, and the short things that were asked for. */
export function entryFor(name: ChangeName, input: unknown, account: AccountView, address: string): Entry {
  // The table is typed by name on both sides; the compiler cannot follow one name through both at once.
  const thing = (changes[name].thing as (input: unknown) => Thing)(input)
  const said = Object.entries(input as object).flatMap(([field, value]) =>
    unsaid.has(field) || !['string', 'number', 'boolean'].includes(typeof value) || value === ''
      ? []
      : [`${field}: ${isVisitor(value) ? `${String(value).slice(0, 6)}…` : shortened(String(value), 120)}`],
  )
  return { account, address, action: name, thing, detail: said.join(' · ') }
}
