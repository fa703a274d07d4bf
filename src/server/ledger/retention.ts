import type { Knex } from 'knex'
import * as z from 'zod'
import { fold, keptVisitor, unknownVisitor, type History } from '@/core/ledger'
import { inTransaction, type Database } from '../database/connect'
import { ASIDE } from '../stores/events'
import { rulesFor } from './count'
import { forgetVisitor, NOBODY } from './known-of-visitors'
import { addToRows } from './rows'
import { bytesOf, readHistories } from './visitors'

const DAY = 86_400_000
/** So little at once that whoever counts hardly waits. */
const VISITORS_AT_ONCE = 100

const visitorRow = z.object({
  crowd: z.number(),
  visitor: z.instanceof(Buffer).transform((bytes) => bytes.toString('hex')),
})

/**
 * Takes events away that are older than so many days. What they counted stays: in the rows, and beside them in what is
 * kept of such events, so that a recount begins there; and of their visitors what is remembered.
 *
 * @returns how many events went; 0 when there is nothing more to take away
 */
export async function pruneEvents(db: Database, days: number, now: Date): Promise<number> {
  const before = new Date(now.getTime() - days * DAY)
  const found: unknown[] = await db('events')
    .where('at', '<', before)
    .where({ tallied: 1 })
    .distinct('crowd', 'visitor')
    .limit(VISITORS_AT_ONCE)
  let gone = 0
  for (const row of found) {
    const { crowd, visitor } = visitorRow.parse(row)
    gone += await inTransaction(db, (trx) => pruneVisitorEvents(trx, crowd, visitor, before))
  }
  return gone
}

const nothing: History = { base: unknownVisitor(), counted: [] }

/** Up to a moment, or all of them. @returns how many went */
async function pruneVisitorEvents(trx: Knex.Transaction, crowd: number, visitor: string, before: Date): Promise<number> {
  // Held, so that nobody counts this visitor meanwhile.
  await trx('ledger_visitors')
    .where({ crowd, visitor: bytesOf(visitor) })
    .forUpdate()
    .first('last_seq')
  const { base, counted } = (await readHistories(trx, crowd, [visitor])).get(visitor) ?? nothing
  const old = counted.filter(({ event }) => event.at < before)
  if (old.length === 0) return 0
  const isLive = crowd === 0
  const rules = await rulesFor(
    trx,
    isLive,
    old.map(({ event }) => event),
    new Map([[visitor, { state: base }]]),
  )
  const { after, sums } = fold(base, old, rules, isLive ? 'everything' : 'tests')
  await addToRows(trx, crowd, sums.rows(), '_kept')
  await trx('ledger_visitors')
    .where({ crowd, visitor: bytesOf(visitor) })
    .update({ base: keptVisitor(after), base_at: before })
  return trx('events')
    .whereIn(
      'seq',
      old.map(({ seq }) => seq),
    )
    .delete()
}

/**
 * Forgets visitors who have not come for so many days, with all that is still kept of what they did; numbers stay.
 *
 * @returns how many
 */
export async function pruneVisitors(db: Database, days: number, now: Date): Promise<number> {
  const before = new Date(now.getTime() - days * DAY)
  // What has not been counted yet may be news of them.
  const waiting = db('events as e').whereRaw('e.crowd = v.crowd AND e.visitor = v.visitor').where('e.tallied', 0)
  const found: unknown[] = await db('ledger_visitors as v')
    .where('v.last_at', '<', before)
    .whereNotExists(waiting.select(db.raw('1')))
    .limit(VISITORS_AT_ONCE)
    .select('v.crowd', 'v.visitor')
  for (const row of found) {
    const { crowd, visitor } = visitorRow.parse(row)
    await inTransaction(db, async (trx) => {
      await pruneVisitorEvents(trx, crowd, visitor, now)
      await forgetVisitor(trx, { crowd, visitor: bytesOf(visitor) })
    })
  }
  return found.length
}

/**
 * Takes away what is kept of those of whom nothing was ever counted, or nothing is any more: what was typed into forms, and
 * who ordered. It stays for as many days as it would after a visit.
 *
 * @returns how many rows
 */
export async function pruneStrangers(db: Database, days: number, now: Date): Promise<number> {
  const before = new Date(now.getTime() - days * DAY)
  const isStranger = (row: string) =>
    db('ledger_visitors as v').where('v.crowd', 0).whereRaw(`v.visitor = ${row}.visitor`).select(db.raw('1'))
  const entries = await db('form_entries')
    .where('at', '<', before)
    .whereNotExists(isStranger('form_entries'))
    .limit(STRANGERS_AT_ONCE)
    .delete()
  const orders = await db('orders')
    .where('at', '<', before)
    .whereNot({ visitor: NOBODY })
    .whereNotExists(isStranger('orders'))
    .limit(STRANGERS_AT_ONCE)
    .update({ visitor: NOBODY })
  // What could not be counted makes nobody known.
  const aside = await db('events')
    .where('at', '<', before)
    .where({ tallied: ASIDE })
    .whereNotExists(isStranger('events'))
    .limit(STRANGERS_AT_ONCE)
    .delete()
  return entries + orders + aside
}
const STRANGERS_AT_ONCE = 500

/**
 * Takes away all that is known of a visitor: what they did, what is remembered of them, and what they sent with forms.
 * Numbers stay as they are: nobody can be found in a sum.
 *
 * @returns how many events and form entries went
 */
export async function eraseVisitor(db: Database, visitor: string): Promise<{ events: number; entries: number }> {
  return inTransaction(db, async (trx) => {
    const key = bytesOf(visitor)
    const ever = new Date('9999-12-31T00:00:00Z')
    const crowds: unknown[] = await trx('events').where({ visitor: key }).distinct('crowd', 'visitor')
    let events = 0
    for (const row of crowds) events += await pruneVisitorEvents(trx, visitorRow.parse(row).crowd, visitor, ever)
    // What has not been counted yet is not counted any more.
    events += await trx('events').where({ visitor: key }).delete()
    const entries = await trx('form_entries').where({ visitor: key }).delete()
    await forgetVisitor(trx, { crowd: null, visitor: key })
    return { events, entries }
  })
}

/** Steps of drafts are for merging what two people do at once; nobody is at it for longer than this. */
const STEP_DAYS = 30

export async function pruneDraftSteps(db: Knex, now: Date, most = 2000): Promise<number> {
  return db('draft_steps')
    .where('at', '<', new Date(now.getTime() - STEP_DAYS * DAY))
    .limit(most)
    .delete()
}
