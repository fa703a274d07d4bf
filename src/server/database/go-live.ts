import type { Knex } from 'knex'
import * as z from 'zod'
import { inTransaction, type Database } from './connect'

declare const turn: unique symbol
/** A transaction whose turn it is to go live: until it ends nobody else makes a release, and all that others made it reads. */
export type LiveTransaction = Knex.Transaction & { readonly [turn]: true }

/**
 * For whatever changes what visitors get. Its turn is taken by the first statement, before anything is read: what was read
 * before waiting would be of a moment ago, and a release made of that undoes what others were told is done.
 */
export function goLive<T>(db: Database, work: (trx: LiveTransaction) => Promise<T>): Promise<T> {
  if (db.isTransaction === true) throw new Error('goLive: a transaction that has begun has read already; begin with this one')
  return inTransaction(db, async (trx) => {
    await holdNewest(trx)
    return work(trx as LiveTransaction)
  })
}

/** @returns its number; held until the transaction ends */
export async function holdNewest(trx: Knex.Transaction): Promise<number> {
  const row: unknown = await trx('newest_release').where({ one: 1 }).forUpdate().first('number')
  return z.object({ number: z.number() }).parse(row).number
}
