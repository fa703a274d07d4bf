import type { Knex } from 'knex'
import * as z from 'zod'
import { SHARDS } from './events'

/** Milliseconds for which a lease holds that is not renewed: so long nobody does the work of a process that died. */
export const TERM = 6000

/** What is leased: a share of the visitors, or all that only one process may do. */
export const LEAD = 'lead'
/** Whoever counts all anew holds this, and nobody else any visitors. */
const ANEW = 'anew'
const shardName = (shard: number) => `shard-${String(shard).padStart(2, '0')}`
export const leaseNames = [LEAD, ANEW, ...Array.from({ length: SHARDS }, (_, shard) => shardName(shard))]

/** What a process holds. Each lease has the number that it was taken under: whoever took it later has a higher one. */
export interface Held {
  readonly lead: boolean
  readonly shards: ReadonlyMap<number, number>
}

export const NOTHING: Held = { lead: false, shards: new Map() }

const heldRow = z.object({ name: z.string(), fence: z.number() })
const inTerm = (db: Knex) => db.raw('UTC_TIMESTAMP(3) + INTERVAL ? MICROSECOND', [TERM * 1000])
const now = (db: Knex) => db.raw('UTC_TIMESTAMP(3)')

/**
 * Says that a process is there, keeps what it holds, and takes of what is free its fair share: as many shards as there
 * are, divided by the processes that are there; more than that is given back. All by the clock of the database.
 *
 * @param me the name of the process, its own in each life
 */
export async function renewLeases(db: Knex, me: string): Promise<Held> {
  await db('job_processes')
    .insert({ name: me, at: now(db) })
    .onConflict('name')
    .merge()
  await renew(db, me)
  const alive: unknown = await db('job_processes')
    .where('at', '>', db.raw('UTC_TIMESTAMP(3) - INTERVAL ? MICROSECOND', [TERM * 1000]))
    .count({ total: '*' })
    .first()
  const anew = await holderOf(db, ANEW)
  const processes = Math.max(1, z.object({ total: z.coerce.number() }).parse(alive).total)
  const fair = anew === null ? Math.ceil(SHARDS / processes) : anew === me ? SHARDS : 0
  const mine = await heldBy(db, me)
  const surplus = [...mine.shards.keys()].slice(fair)
  if (surplus.length > 0) await giveBack(db, me, surplus.map(shardName))
  const wanted = fair - mine.shards.size
  if (wanted > 0) await take(db, me, 'shard-%', wanted)
  if (!mine.lead && anew !== me) await take(db, me, LEAD, 1)
  return heldBy(db, me)
}

/** Asks all others to give their visitors up, for as long as leases are renewed. @returns whether nobody else has asked for it */
export async function askForAll(db: Knex, me: string): Promise<boolean> {
  await take(db, me, ANEW, 1)
  return (await holderOf(db, ANEW)) === me
}

async function holderOf(db: Knex, name: string): Promise<string | null> {
  const row: unknown = await db('leases').where({ name }).where('expires_at', '>', now(db)).first('owner')
  return row === undefined ? null : z.object({ owner: z.string() }).parse(row).owner
}

/*
 * Rows are changed by their names alone: whoever counts holds its own while it writes, and nobody else has to wait for that.
 */
async function renew(db: Knex, me: string): Promise<void> {
  const { lead, shards } = await heldBy(db, me)
  const names = [...(lead ? [LEAD] : []), ...[...shards.keys()].map(shardName)]
  if ((await holderOf(db, ANEW)) === me) names.push(ANEW)
  if (names.length === 0) return
  await db('leases')
    .whereIn('name', names)
    .where({ owner: me })
    .where('expires_at', '>', now(db))
    .update({ expires_at: inTerm(db) })
}

async function take(db: Knex, me: string, like: string, most: number): Promise<void> {
  const free: { name: string }[] = await db('leases')
    .where('name', 'like', like)
    .where('expires_at', '<=', now(db))
    .orderBy('name')
    .limit(most)
    .select('name')
  if (free.length === 0) return
  await db('leases')
    .whereIn(
      'name',
      free.map(({ name }) => name),
    )
    .where('expires_at', '<=', now(db))
    .update({ owner: me, fence: db.raw('fence + 1'), expires_at: inTerm(db) })
}

async function heldBy(db: Knex, me: string): Promise<Held> {
  const rows: unknown[] = await db('leases')
    .where({ owner: me })
    .where('expires_at', '>', now(db))
    .orderBy('name')
    .select('name', 'fence')
  const held = rows.map((row) => heldRow.parse(row))
  const shards = held.flatMap(({ name, fence }): [number, number][] =>
    !name.startsWith('shard-') ? [] : [[Number(name.slice('shard-'.length)), fence]],
  )
  return { lead: held.some(({ name }) => name === LEAD), shards: new Map(shards) }
}

async function giveBack(db: Knex, me: string, names: readonly string[]): Promise<void> {
  await db('leases')
    .where({ owner: me })
    .whereIn('name', names)
    .update({ expires_at: now(db) })
}

/** When a process goes, the others need not wait for its leases to run out. */
export async function leave(db: Knex, me: string): Promise<void> {
  await giveBack(db, me, leaseNames)
  await db('job_processes').where({ name: me }).delete()
}

/** Of a process that was held up for so long that others took over what it had. */
export class LeaseLost extends Error {}

/**
 * Makes sure, in the transaction that writes, that these shards are still held as they were taken: nobody else can take
 * them before it ends.
 *
 * @throws {LeaseLost}
 */
export async function expectHeld(trx: Knex.Transaction, me: string, shards: ReadonlyMap<number, number>): Promise<void> {
  const rows: unknown[] = await trx('leases')
    .whereIn('name', [...shards.keys()].map(shardName))
    .where({ owner: me })
    .where('expires_at', '>', now(trx))
    .select('name', 'fence')
    .forShare()
  const held = new Map(rows.map((row) => heldRow.parse(row)).map(({ name, fence }) => [name, fence]))
  for (const [shard, fence] of shards)
    if (held.get(shardName(shard)) !== fence) throw new LeaseLost(`another process has taken shard ${shard} over`)
}

/** Whether any process that counts has been there lately. */
export async function anyoneCounts(db: Knex, withinMs: number): Promise<boolean> {
  const row: unknown = await db('job_processes')
    .where('at', '>', db.raw('UTC_TIMESTAMP(3) - INTERVAL ? MICROSECOND', [withinMs * 1000]))
    .first('name')
  return row !== undefined
}
