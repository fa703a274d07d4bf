import type { Knex } from 'knex'
import * as z from 'zod'
import type { Happening, VisitorEvent } from '@/core/goals'
import { documentIdSchema, nodeIdSchema, roundIdSchema, versionIdSchema } from '@/core/ids'
import type { StampedEvent } from '@/site/collect/report'
import { jsonColumn } from '../database/json-column'

/** The source of what made-up readers of newsletters do on a site where people are real. No rehearsal ever has this number. */
export const STAND_IN = 4_294_967_295

const columns = ['source', 'id', 'visitor', 'at', 'kind', 'document_id', 'round_id', 'version', 'nodes', 'about'] as const

/**
 * Writes events in one statement, durable when it resolves. An event that is already there is left as it is.
 *
 * @param within milliseconds after which a database that does not answer is taken to be away
 */
export async function writeEvents(db: Knex, events: readonly StampedEvent[], within?: number): Promise<void> {
  if (events.length === 0) return
  const places = events.map(() => '(?,?,?,?,?,?,?,?,?,?)').join(',')
  const values = events.flatMap((event) => rowOf(event))
  const statement = db.raw(`INSERT INTO events (${columns.join(',')}) VALUES ${places} ON DUPLICATE KEY UPDATE seq = seq`, values)
  await (within === undefined ? statement : statement.timeout(within))
}

function rowOf(event: StampedEvent): (string | number | Buffer | Date | null)[] {
  const shared = [event.source, Buffer.from(event.id, 'hex'), Buffer.from(event.visitor, 'hex'), event.at, event.kind]
  const row = (document: string | null, nodes: string | null = null, about: object | null = null) => [
    ...shared,
    document,
    null,
    null,
    nodes,
    about === null ? null : JSON.stringify(about),
  ]
  switch (event.kind) {
    case 'assigned':
    case 'seen':
      return [...shared, null, event.round, event.version, null, null]
    case 'page':
      return row(event.document, null, { path: event.path, pageType: event.pageType, arrival: event.arrival })
    case 'call':
      return row(event.document, event.call)
    case 'click':
      return row(event.document, chain(event.nodes), event.markers.length === 0 ? null : { markers: event.markers })
    case 'form':
      return row(event.document, chain(event.nodes))
    case 'outbound':
      return row(event.document, null, { address: event.address })
    case 'read':
      return row(event.document, event.node)
    case 'stay':
      return row(event.document, null, { seconds: event.seconds })
    case 'order':
      return row(null, null, { order: event.order, value: event.value })
    case 'event':
      return row(null, null, { name: event.name, value: event.value })
    case 'letter':
      return row(null, event.call, { letter: event.letter, recipient: event.recipient, did: event.did })
    default:
      return event satisfies never
  }
}

/** From the inside out; what does not fit is the farthest out. */
function chain(nodes: readonly string[]): string {
  const text = nodes.join(' ')
  return text.length <= 500 ? text : text.slice(0, text.lastIndexOf(' ', 500))
}

const hex = z.instanceof(Buffer).transform((bytes) => bytes.toString('hex'))
const nodes = z.string().transform((text) =>
  text
    .split(' ')
    .filter(Boolean)
    .map((node) => nodeIdSchema.parse(node)),
)
const arrival = z.object({ source: z.string(), device: z.string() }).nullable()
const about = <Of extends z.ZodRawShape>(shape: Of) => jsonColumn(z.object(shape))

const happeningRow = z.discriminatedUnion('kind', [
  z.object({ kind: z.enum(['assigned', 'seen']), round_id: roundIdSchema, version: versionIdSchema }),
  z.object({
    kind: z.literal('page'),
    document_id: documentIdSchema,
    about: about({ path: z.string(), pageType: z.string(), arrival }).nullable(),
  }),
  z.object({ kind: z.literal('call'), document_id: documentIdSchema, nodes: documentIdSchema }),
  z.object({
    kind: z.literal('click'),
    document_id: documentIdSchema,
    nodes,
    about: about({ markers: z.array(z.string()) }).nullable(),
  }),
  z.object({ kind: z.literal('form'), document_id: documentIdSchema, nodes }),
  z.object({ kind: z.literal('outbound'), document_id: documentIdSchema, about: about({ address: z.string() }) }),
  z.object({ kind: z.literal('read'), document_id: documentIdSchema, nodes: nodeIdSchema }),
  z.object({ kind: z.literal('stay'), document_id: documentIdSchema, about: about({ seconds: z.number() }) }),
  z.object({ kind: z.literal('order'), about: about({ order: z.string(), value: z.number() }) }),
  z.object({ kind: z.literal('event'), about: about({ name: z.string(), value: z.number().nullable() }) }),
  z.object({
    kind: z.literal('letter'),
    nodes: documentIdSchema,
    about: about({ letter: z.number(), recipient: z.string(), did: z.enum(['shown', 'followed']) }),
  }),
])

function happeningOf(row: z.infer<typeof happeningRow>): Happening {
  switch (row.kind) {
    case 'assigned':
    case 'seen':
      return { kind: row.kind, round: row.round_id, version: row.version }
    case 'page':
      return { kind: 'page', document: row.document_id, ...(row.about ?? { path: '', pageType: '', arrival: null }) }
    case 'call':
      return { kind: 'call', document: row.document_id, call: row.nodes }
    case 'click':
      return { kind: 'click', document: row.document_id, nodes: row.nodes, markers: row.about?.markers ?? [] }
    case 'form':
      return { kind: 'form', document: row.document_id, nodes: row.nodes }
    case 'outbound':
      return { kind: 'outbound', document: row.document_id, address: row.about.address }
    case 'read':
      return { kind: 'read', document: row.document_id, node: row.nodes }
    case 'stay':
      return { kind: 'stay', document: row.document_id, seconds: row.about.seconds }
    case 'order':
      return { kind: 'order', ...row.about }
    case 'event':
      return { kind: 'event', ...row.about }
    case 'letter':
      return { kind: 'letter', call: row.nodes, ...row.about }
    default:
      return row satisfies never
  }
}

export interface WaitingEvent {
  readonly seq: number
  readonly source: number
  readonly event: VisitorEvent
}

const head = z.object({ seq: z.number(), source: z.number(), visitor: hex, at: z.date() })

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
export async function readCounted(trx: Knex, source: number, visitors: readonly string[]): Promise<WaitingEvent[]> {
  const found: unknown[] = await trx('events')
    .where({ source, tallied: 1 })
    .whereIn(
      'visitor',
      visitors.map((visitor) => Buffer.from(visitor, 'hex')),
    )
    .orderBy(['visitor', 'at', 'seq'])
  return readable(trx, found)
}

/** What readers of newsletters did that has been counted, wherever they are made up, after so many events. */
export async function readLetterEvents(trx: Knex, after: number, most: number): Promise<WaitingEvent[]> {
  const found: unknown[] = await trx('events')
    .where({ kind: 'letter', tallied: 1 })
    .whereIn('source', [0, STAND_IN])
    .where('seq', '>', after)
    .orderBy('seq')
    .limit(most)
  return readable(trx, found)
}

/** Events as they are counted; one that cannot be read is set aside and named, and does not hold up the others. */
async function readable(trx: Knex, found: readonly unknown[]): Promise<WaitingEvent[]> {
  const read = found.map((row) => ({ row, head: head.safeParse(row).data, happening: happeningRow.safeParse(row).data }))
  const unreadable = read.flatMap(({ row, head: about, happening }) =>
    about === undefined || happening === undefined ? [z.object({ seq: z.number() }).parse(row).seq] : [],
  )
  if (unreadable.length > 0) await setAside(trx, unreadable)
  return read.flatMap(({ head: about, happening }) =>
    about === undefined || happening === undefined
      ? []
      : [{ seq: about.seq, source: about.source, event: { visitor: about.visitor, at: about.at, ...happeningOf(happening) } }],
  )
}

/** What is kept of what a visitor did on the site: the newest of it, when it begins, and how much it is. */
export async function readEventsOf(
  db: Knex,
  visitor: string,
  most: number,
): Promise<{ newest: readonly VisitorEvent[]; firstAt: Date | null; total: number }> {
  const mine = () => db('events').where({ source: 0, visitor: Buffer.from(visitor, 'hex') })
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

/** Whether anything of a source is not counted yet. */
export async function isWaiting(db: Knex, source: number): Promise<boolean> {
  return (await db('events').where({ tallied: 0, source }).first('seq')) !== undefined
}

/** Out of the way of all others, and kept: a person can look at it, and have it counted when it can be. */
export async function setAside(trx: Knex, seqs: readonly number[]): Promise<void> {
  await trx('events').whereIn('seq', seqs).update({ tallied: ASIDE })
}

/** In the place of “counted”: could not be. */
const ASIDE = 2

export async function countSetAside(db: Knex): Promise<number> {
  const row: unknown = await db('events').where({ tallied: ASIDE }).count({ total: '*' }).first()
  return z.object({ total: z.coerce.number() }).parse(row).total
}
