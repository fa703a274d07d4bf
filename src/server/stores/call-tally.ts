import type { Knex } from 'knex'
import * as z from 'zod'
import { libraryOf, reaches, worthOf, type Goal, type VisitorEvent } from '@/core/goals'
import { documentIdSchema, type DocumentId, type NodeId } from '@/core/ids'
import { readCalendar } from './settings'

/** How long after a press what a visitor does is still its doing. */
const CREDIT_DAYS = 14
const DAY = 86_400_000

interface Press {
  readonly call: DocumentId
  readonly document: DocumentId
  readonly channel: 'page' | 'newsletter'
  /** The newsletter that it was pressed in. */
  readonly letter: number | null
  readonly at: Date
}

interface Addition {
  views: number
  clicks: number
  submissions: number
  worth: number
}

const hex = z.instanceof(Buffer).transform((bytes) => bytes.toString('hex'))

/**
 * Calls to action by day and page: seen, pressed, and the goals that whoever pressed one reached within fourteen days.
 * A goal is credited to the call that its visitor pressed last, once for each visitor, goal and call.
 */
export async function countCalls(trx: Knex.Transaction, events: readonly VisitorEvent[], goals: readonly Goal[]): Promise<void> {
  const library = libraryOf(goals)
  const calls = await callsByNode(trx)
  const { dayOf } = await readCalendar(trx)
  const visitors = [...new Set(events.map(({ visitor }) => visitor))].map((visitor) => Buffer.from(visitor, 'hex'))
  const pressed = await readPresses(trx, visitors)
  const credited = await readCredits(trx, visitors)
  const fresh = new Set<string>()
  const additions = new Map<string, { key: [string, string, string, string]; add: Addition }>()
  const addTo = (press: Omit<Press, 'at' | 'letter'>, at: Date): Addition => {
    const key: [string, string, string, string] = [press.call, dayOf(at), press.document, press.channel]
    const entry = additions.get(key.join(' ')) ?? { key, add: { views: 0, clicks: 0, submissions: 0, worth: 0 } }
    additions.set(key.join(' '), entry)
    return entry.add
  }
  const orders: Ordered[] = []
  for (const event of events) {
    if (event.kind === 'letter' && event.did === 'shown') {
      addTo({ call: event.call, document: event.call, channel: 'newsletter' }, event.at).views++
      continue
    }
    if (event.kind === 'letter') {
      const press: Press = { call: event.call, document: event.call, channel: 'newsletter', letter: event.letter, at: event.at }
      addTo(press, event.at).clicks++
      pressed.set(event.visitor, press)
      continue
    }
    if (event.kind === 'call') addTo({ call: event.call, document: event.document, channel: 'page' }, event.at).views++
    const call =
      event.kind === 'click' ? event.nodes.map((node) => calls.get(node)).find((found) => found !== undefined) : undefined
    if (event.kind === 'click' && call !== undefined) {
      const press: Press = { call, document: event.document, channel: 'page', letter: null, at: event.at }
      addTo(press, event.at).clicks++
      pressed.set(event.visitor, press)
    }
    const last = pressed.get(event.visitor)
    if (event.kind === 'order') orders.push({ order: event, press: last === undefined || !isFresh(last, event.at) ? null : last })
    if (last === undefined || !isFresh(last, event.at)) continue
    for (const goal of goals.filter((one) => reaches(one, event, library))) {
      const credit = `${event.visitor} ${goal.id} ${last.call}`
      if (credited.has(credit)) continue
      credited.add(credit)
      fresh.add(credit)
      const add = addTo(last, event.at)
      add.submissions++
      add.worth += worthOf(goal, event)
    }
  }
  await write(trx, additions, pressed, fresh)
  await keepOrders(trx, orders)
}

function isFresh(press: Press, at: Date): boolean {
  return at >= press.at && at.getTime() <= press.at.getTime() + CREDIT_DAYS * DAY
}

interface Ordered {
  readonly order: Extract<VisitorEvent, { kind: 'order' }>
  readonly press: Press | null
}

/** Orders with the call to action that led to them; a refund lessens the order that it names. */
async function keepOrders(trx: Knex.Transaction, orders: readonly Ordered[]): Promise<void> {
  for (const { order, press } of orders)
    if (order.value < 0) await trx('orders').where({ number: order.order }).increment('refunded', -order.value)
    else
      await trx('orders')
        .insert({
          number: order.order,
          visitor: Buffer.from(order.visitor, 'hex'),
          at: order.at,
          value: order.value,
          call_id: press?.call ?? null,
          channel: press?.channel ?? null,
          letter: press?.letter ?? null,
        })
        .onConflict('number')
        .merge(['visitor', 'at', 'value', 'call_id', 'channel', 'letter'])
}

async function callsByNode(trx: Knex): Promise<Map<NodeId, DocumentId>> {
  const rows: unknown[] = await trx('documents')
    .where({ kind: 'callToAction' })
    .select('id', trx.raw("JSON_VALUE(draft, '$.root') AS root"))
  return new Map(
    rows
      .map((row) => z.object({ id: documentIdSchema, root: z.string() }).parse(row))
      .map(({ id, root }) => [root as NodeId, id]),
  )
}

async function readPresses(trx: Knex, visitors: readonly Buffer[]): Promise<Map<string, Press>> {
  const rows: unknown[] = await trx('call_presses').whereIn('visitor', visitors)
  const schema = z.object({
    visitor: hex,
    call_id: documentIdSchema,
    document_id: documentIdSchema,
    channel: z.enum(['page', 'newsletter']),
    letter: z.number().nullable(),
    at: z.date(),
  })
  return new Map(
    rows
      .map((row) => schema.parse(row))
      .map(({ visitor, call_id: call, document_id: document, ...press }) => [visitor, { call, document, ...press }]),
  )
}

async function readCredits(trx: Knex, visitors: readonly Buffer[]): Promise<Set<string>> {
  const rows: unknown[] = await trx('call_credits').whereIn('visitor', visitors).select('visitor', 'goal_id', 'call_id')
  const schema = z.object({ visitor: hex, goal_id: z.string(), call_id: z.string() })
  return new Set(rows.map((row) => schema.parse(row)).map(({ visitor, goal_id, call_id }) => `${visitor} ${goal_id} ${call_id}`))
}

async function write(
  trx: Knex.Transaction,
  additions: ReadonlyMap<string, { key: readonly string[]; add: Addition }>,
  pressed: ReadonlyMap<string, Press>,
  credits: ReadonlySet<string>,
): Promise<void> {
  if (additions.size === 0) return
  const counts = ['views', 'clicks', 'submissions', 'worth'] as const
  await trx.raw(
    `INSERT INTO call_daily (call_id, day, document_id, channel, ${counts.join(', ')}) VALUES ${[...additions].map(() => '(?,?,?,?,?,?,?,?)').join(',')}
     ON DUPLICATE KEY UPDATE ${counts.map((count) => `${count} = ${count} + VALUES(${count})`).join(', ')}`,
    [...additions.values()].flatMap(({ key, add }) => [...key, ...counts.map((count) => add[count])]),
  )
  const presses = [...pressed].map(([visitor, { call, document, channel, letter, at }]) => ({
    visitor: Buffer.from(visitor, 'hex'),
    call_id: call,
    document_id: document,
    channel,
    letter,
    at,
  }))
  if (presses.length > 0) await trx('call_presses').insert(presses).onConflict('visitor').merge()
  const rows = [...credits].map((credit) => {
    const [visitor = '', goal_id, call_id] = credit.split(' ')
    return { visitor: Buffer.from(visitor, 'hex'), goal_id, call_id, at: new Date() }
  })
  if (rows.length > 0) await trx('call_credits').insert(rows)
}

export async function forgetCalls(trx: Knex.Transaction): Promise<void> {
  for (const table of ['call_daily', 'call_presses', 'call_credits']) await trx(table).delete()
  await trx('orders').update({ value: 0, refunded: 0, call_id: null, channel: null, letter: null })
}
