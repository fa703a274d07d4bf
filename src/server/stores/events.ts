import type { Knex } from 'knex'
import * as z from 'zod'
import { columnsOf, happeningOf, type StampedEvent, type VisitorEvent } from '@/core/events'
import { jsonColumn } from '../database/json-column'
import { insertMany } from '../database/many-rows'

/** The crowd of what made-up readers of newsletters do on a site where people are real. No rehearsal ever has this number. */
export const STAND_IN = 4_294_967_295

const columns = ['crowd', 'id', 'visitor', 'at', 'kind', 'document_id', 'round_id', 'version', 'nodes', 'about'] as const

/** What counting reads of them. */
const counted = ['seq', 'crowd', 'visitor', 'at', 'kind', 'document_id', 'round_id', 'version', 'nodes', 'about'] as const

/**
 * Writes events in one statement, durable when it resolves. An event that is already there is left as it is.
 *
 * @param within milliseconds after which a database that does not answer is taken to be away
 */
export async function writeEvents(db: Knex, events: readonly StampedEvent[], within?: number): Promise<void> {
  if (events.length === 0) return
  const statement = insertMany(db, { table: 'events', columns, rows: events.map(rowOf), onSame: 'seq = seq' })
  await (within === undefined ? statement : statement.timeout(within))
}

function rowOf(event: StampedEvent): (string | number | Buffer | Date | null)[] {
  const { document_id, round_id, version, nodes, about } = columnsOf(event)
  const [id, visitor] = [Buffer.from(event.id, 'hex'), Buffer.from(event.visitor, 'hex')]
  const said = about === null ? null : JSON.stringify(about)
  return [event.crowd, id, visitor, event.at, event.kind, document_id, round_id, version, nodes, said]
}

export interface WaitingEvent {
  readonly seq: number
  readonly crowd: number
  readonly event: VisitorEvent
}

const hex = z.instanceof(Buffer).transform((bytes) => bytes.toString('hex'))
/** What every row has; what its kind keeps is for the kind to read. */
const rowSchema = z.object({
  ...{ seq: z.number(), crowd: z.number(), visitor: hex, at: z.date() },
  ...{ kind: z.string(), document_id: z.unknown(), round_id: z.unknown(), version: z.unknown(), nodes: z.unknown() },
  about: jsonColumn(z.unknown()).nullable(),
})

/** The next events that are not counted yet, oldest first. @param shards of which visitors; all where nothing is said */
export async function readWaiting(trx: Knex, limit: number, shards?: readonly number[]): Promise<WaitingEvent[]> {
  const found: unknown[] = await trx('events')
    .where({ tallied: 0 })
    .modify((query) => {
      if (shards !== undefined)
        void query.whereRaw(`ASCII(visitor) % ${SHARDS} IN (${shards.map(() => '?').join(',') || 'NULL'})`, shards)
    })
    .orderBy('seq')
    .limit(limit)
    .select(counted)
  return readable(trx, found)
}

/** Visitors are divided by their ids, so that several processes can count. */
export const SHARDS = 64

/** The same as is asked of the database: by the first of the visitor’s bytes. */
export function shardOf(visitor: string): number {
  return parseInt(visitor.slice(0, 2), 16) % SHARDS
}

export async function readBySeq(trx: Knex, seqs: readonly number[]): Promise<WaitingEvent[]> {
  return readable(trx, await trx('events').whereIn('seq', seqs))
}

/** What visitors did that has been counted, of each in the order in which it happened. */
export async function readCounted(trx: Knex, crowd: number, visitors: readonly string[]): Promise<WaitingEvent[]> {
  const found: unknown[] = await trx('events')
    .where({ crowd, tallied: 1 })
    .whereIn(
      'visitor',
      visitors.map((visitor) => Buffer.from(visitor, 'hex')),
    )
    .orderBy(['visitor', 'at', 'seq'])
    .select(counted)
  return readable(trx, found)
}

/** What readers of newsletters did that has been counted, wherever they are made up, after so many events. */
export async function readLetterEvents(trx: Knex, after: number, most: number): Promise<WaitingEvent[]> {
  const found: unknown[] = await trx('events')
    .where({ kind: 'letter', tallied: 1 })
    .whereIn('crowd', [0, STAND_IN])
    .where('seq', '>', after)
    .orderBy('seq')
    .limit(most)
  return readable(trx, found)
}

/** Events as they are counted; one that cannot be read is set aside and named, and does not hold up the others. */
async function readable(trx: Knex, found: readonly unknown[]): Promise<WaitingEvent[]> {
  const read: WaitingEvent[] = []
  const unreadable: number[] = []
  for (const raw of found) {
    const row = rowSchema.safeParse(raw).data
    const happening = row === undefined ? null : happeningOf(row)
    if (row === undefined || happening === null) unreadable.push(z.object({ seq: z.number() }).parse(raw).seq)
    else read.push({ seq: row.seq, crowd: row.crowd, event: { visitor: row.visitor, at: row.at, ...happening } })
  }
  if (unreadable.length > 0) await setAside(trx, unreadable)
  return read
}

/** What is kept of what a visitor did on the site: the newest of it, when it begins, and how much it is. */
export async function readEventsOf(
  db: Knex,
  visitor: string,
  most: number,
): Promise<{ newest: readonly VisitorEvent[]; firstAt: Date | null; total: number }> {
  const mine = () => db('events').where({ crowd: 0, visitor: Buffer.from(visitor, 'hex') })
  const about: unknown = await mine().count({ total: '*' }).min({ firstAt: 'at' }).first()
  const { total, firstAt } = z.object({ total: z.coerce.number(), firstAt: z.date().nullable() }).parse(about)
  const found: unknown[] = await mine()
    .orderBy([
      { column: 'at', order: 'desc' },
      { column: 'seq', order: 'desc' },
    ])
    .limit(most)
  return { newest: (await readable(db, found)).map(({ event }) => event), firstAt, total }
}

/** Whether anything of a crowd is not counted yet. */
/** @param until of events up to this one, by their number */
export async function isWaiting(db: Knex, crowd: number, until?: number): Promise<boolean> {
  const query = db('events').where({ tallied: 0, crowd })
  return (await (until === undefined ? query : query.where('seq', '<=', until)).first('seq')) !== undefined
}

/** The number of the event that came last; 0 where none did. */
export async function newestEvent(db: Knex): Promise<number> {
  const row: unknown = await db('events').max({ seq: 'seq' }).first()
  return z.object({ seq: z.coerce.number().nullable() }).parse(row).seq ?? 0
}

/** Out of the way of all others, and kept: a person can look at it, and have it counted when it can be. */
export async function setAside(trx: Knex, seqs: readonly number[]): Promise<void> {
  await trx('events').whereIn('seq', seqs).update({ tallied: ASIDE })
}

/** In the place of “counted”: could not be. */
export const ASIDE = 2

export async function countSetAside(db: Knex): Promise<number> {
  const row: unknown = await db('events').where({ tallied: ASIDE }).count({ total: '*' }).first()
  return z.object({ total: z.coerce.number() }).parse(row).total
}
