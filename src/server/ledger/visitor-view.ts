import type { Knex } from 'knex'
import * as z from 'zod'
import type { VisitorView } from '@/contract/contract'
import { ORIGINAL } from '@/core/decide'
import { armName } from '@/core/experiment'
import type { Happening } from '@/core/events'
import type { VersionId } from '@/core/ids'
import { readEventsOf } from '../stores/events'
import { entriesOf } from '../stores/form-entries'
import { roundsById } from '../stores/tests'
import { NOBODY, rowsKnowing } from './known-of-visitors'
import { bytesOf, readVisitors } from './visitors'

const MOST = 300

/** By their own digits, or by the number of an order that they made. */
export async function findVisitor(db: Knex, who: string): Promise<string | null> {
  if (/^[0-9a-f]{32}$/.test(who)) return who
  const row: unknown = await db('orders').where({ number: who }).first('visitor')
  const schema = z.object({ visitor: z.instanceof(Buffer) }).transform(({ visitor }) => visitor.toString('hex'))
  const visitor = row === undefined ? null : schema.parse(row)
  return visitor === NOBODY.toString('hex') ? null : visitor
}

/** @returns `null` where nothing is kept of them */
export async function visitorKept(db: Knex, visitor: string): Promise<VisitorView | null> {
  const known = (await readVisitors(db, 0, [visitor], false)).get(visitor)
  const events = await readEventsOf(db, visitor, MOST)
  const entries = await entriesOf(db, visitor, MOST)
  const kept = await rowsKnowing(db, { crowd: null, visitor: bytesOf(visitor) })
  if (kept.length === 0) return null
  const state = known?.state
  const rounds = await roundsById(db, [...(state?.enrolments.keys() ?? [])])
  const orders: { number: string; value: number; refunded: number }[] = await db('orders')
    .where({ visitor: bytesOf(visitor) })
    .orderBy('at')
    .limit(MOST)
    .select('number', 'value', 'refunded')
  const reached = [...(state?.progress.reached ?? [])]
  const names: { id: string; name: string }[] =
    reached.length === 0
      ? []
      : await db('goals')
          .whereIn(
            'id',
            reached.map(([id]) => id),
          )
          .select('id', 'name')
  return {
    visitor,
    kept,
    firstAt: events.firstAt?.toISOString() ?? null,
    lastAt: known?.last.at.toISOString() ?? null,
    visits: state?.visit?.number ?? 0,
    events: events.total,
    did: events.newest.map(({ at, ...happening }) => ({ at: at.toISOString(), words: happeningWords(happening) })),
    tests: rounds.flatMap(({ snapshot: { id, design, versions } }) => {
      const enrolment = state?.enrolments.get(id)
      if (enrolment === undefined) return []
      return [{ name: design.name, version: armName(design, versions, enrolment.version), exposed: enrolment.exposedAt !== null }]
    }),
    goals: names.flatMap(({ id, name }) => {
      const found = reached.find(([goal]) => goal === id)
      return found === undefined ? [] : [{ name, ...found[1] }]
    }),
    orders,
    entries: entries.map(({ at, entry }) => ({ at: at.toISOString(), fields: entry })),
  }
}

const versionWords = (version: VersionId) => (version === ORIGINAL ? 'the original' : `the version “${version}”`)

/** In words, for somebody who wants to know what is kept of them. */
function happeningWords(event: Happening): string {
  switch (event.kind) {
    case 'assigned':
      return `was given ${versionWords(event.version)} of a test`
    case 'seen':
      return `saw ${versionWords(event.version)} of a test`
    case 'page':
      return `looked at ${event.path === '' ? event.document : event.path}`
    case 'call':
      return `saw the call to action “${event.call}”`
    case 'click':
      return `pressed something on “${event.document}”`
    case 'form':
      return `sent a form on “${event.document}”`
    case 'outbound':
      return `followed a link to ${event.address}`
    case 'read':
      return `read a part of “${event.document}”`
    case 'stay':
      return `stayed ${event.seconds} seconds on “${event.document}”`
    case 'speed':
      return `had “${event.document}” measured for how fast it was`
    case 'order':
      return event.value < 0
        ? `was paid ${-event.value} back of the order ${event.order}`
        : `ordered ${event.order} for ${event.value}`
    case 'event':
      return `was reported with “${event.name}”`
    case 'letter':
      return event.did === 'shown' ? 'opened a newsletter' : 'followed a link in a newsletter'
    default:
      return event satisfies never
  }
}
