import type { Knex } from 'knex'
import { ORIGINAL } from '@/core/decide'
import type { Round } from '@/core/experiment'
import { unknownVisitor } from '@/core/ledger'
import { visitors } from '@/core/simulate'
import { inTransaction, type Database } from '../database/connect'
import { eventsOf } from '../rehearse'
import { shardOf, writeEvents } from '../stores/events'
import { testsMet } from '../stores/recent-visitors'
import { rowsOfRounds, segmentsOf } from '../stores/results'
import { roundsOf } from '../stores/tests'
import { regions } from '@/serving/regions'
import { act, donePage, freshDatabase, publisher, readyTest, testPage } from '../test-database'
import { countNext, forgetCounts } from './count'
import { sendMissedRefunds, sendRefundsHome } from './registers'
import { readVisitors, writeVisitors } from './visitors'

let db: Database
let round: Round
beforeAll(async () => {
  db = await freshDatabase()
  const { test, lock } = await readyTest(db, 'Other')
  await act(db, publisher, 'test.start', { test, lock })
  round = (await roundsOf(db, 1))[0]?.snapshot as Round
  await db('rounds').update({ started_at: new Date('2026-01-01T00:00:00Z') })
})
afterAll(() => db.destroy())

/** In small batches, so that a visitor's events fall into several. */
const tallyAll = async (on: Database) => {
  while ((await inTransaction(on, (trx) => countNext(trx, 70))) > 0);
}

const inGroups = <Of>(all: readonly Of[], size: number): Of[][] =>
  Array.from({ length: Math.ceil(all.length / size) }, (_, index) => all.slice(index * size, (index + 1) * size))

const crowdOf = (seed: number, crowd: number) =>
  [...visitors({ seed, visitors: 400, days: 3, startsAt: new Date('2026-03-02T00:00:00Z') })].flatMap((visitor) =>
    eventsOf(visitor, round, crowd, new Map([[ORIGINAL, 0.3]])),
  )

const tables = [
  'tallies',
  'segment_tallies',
  'doings',
  'worth_classes',
  'earlier_tallies',
  'beside_tallies',
  'firsts',
  'daily',
  'call_daily',
  'orders',
] as const
/** A row that was taken back to nothing says the same as none. */
const says = (row: Record<string, unknown>) =>
  Object.entries(row).some(
    ([name, value]) => typeof value === 'number' && value !== 0 && !['crowd', 'epoch', 'closed'].includes(name),
  ) || 'visitor' in row
const counts = async () =>
  Object.fromEntries(
    await Promise.all(
      tables.map(async (table) => [
        table,
        (await db(table))
          .filter(says)
          .map((row: object) => JSON.stringify(row))
          .sort(),
      ]),
    ),
  )

test('events that are sent again, whole or in part, count once', async () => {
  const events = crowdOf(1, 0)
  await writeEvents(db, events)
  await tallyAll(db)
  const once = await counts()
  await writeEvents(db, events)
  await writeEvents(db, events.slice(100, 300))
  await tallyAll(db)
  expect(await counts()).toEqual(once)
})

test('in whatever order they come, half of them late, the rows are the same to the unit', async () => {
  const before = await counts()
  await db.transaction(forgetCounts)
  const rows: { seq: number }[] = await db('events').where({ crowd: 0 }).select('seq').orderBy('seq')
  await db('events').update({ tallied: 3 })
  // Every second one first, then the others from the last to the first.
  const late = rows.filter((_, index) => index % 2 === 1).reverse()
  for (const part of [rows.filter((_, index) => index % 2 === 0), late.slice(0, 300), late.slice(300)]) {
    for (const group of inGroups(part, 150)) {
      await db('events')
        .whereIn(
          'seq',
          group.map(({ seq }) => seq),
        )
        .update({ tallied: 0 })
      await tallyAll(db)
    }
  }
  expect(await counts()).toEqual(before)
  expect(Number((await db('tallies').sum({ total: 'converters' }).first())?.total)).toBeGreaterThan(50)
})

test('a process that dies in the middle of a batch leaves nothing of it', async () => {
  const before = await counts()
  await db('events').where({ crowd: 0 }).limit(200).update({ tallied: 0 })
  await db.transaction(forgetCounts)
  const died = db.transaction(async (trx) => {
    await countNext(trx, 5000)
    throw new Error('killed')
  })
  await expect(died).rejects.toThrow('killed')
  expect(await db('tallies')).toEqual([])
  await tallyAll(db)
  expect(await counts()).toEqual(before)
})

describe('a refund', () => {
  const shopper = '9'.repeat(32)
  let made = 0
  const order = (number: string, value: number, visitor = shopper, minutes = 0) => ({
    id: `d${String(made++).padStart(31, '0')}`,
    crowd: 0,
    visitor,
    at: new Date(Date.parse('2026-03-04T10:00:00Z') + minutes * 60_000),
    kind: 'order' as const,
    order: number,
    value,
  })
  const stands = async (number: string) => {
    const row = await db('orders').where({ number }).first('value', 'refunded')
    return [row?.value, row?.refunded]
  }

  test('that came before its order is taken from it', async () => {
    await writeEvents(db, [order('A-1', -30, shopper, 5)])
    await tallyAll(db)
    await writeEvents(db, [order('A-1', 30)])
    await tallyAll(db)
    expect(await stands('A-1')).toEqual([30, 30])
  })

  test('that was reported for nobody belongs to whoever made the order, before it or after it', async () => {
    await writeEvents(db, [order('A-2', -5, '8'.repeat(32), 9)])
    await tallyAll(db)
    await writeEvents(db, [order('A-2', 30)])
    await tallyAll(db)
    await writeEvents(db, [order('A-2', -10, '7'.repeat(32), 20)])
    await tallyAll(db)
    expect(await stands('A-2')).toEqual([30, 15])
    expect(await db('waiting_refunds')).toEqual([])
  })

  test('of an order whose visitor another process counts is left to that one', async () => {
    await writeEvents(db, [order('A-3', 30)])
    await tallyAll(db)
    const stranger = '7'.repeat(32)
    await writeEvents(db, [order('A-3', -10, stranger, 20)])
    await inTransaction(db, (trx) => countNext(trx, 70, [shardOf(stranger)]))
    expect(await stands('A-3')).toEqual([30, 0])
    await inTransaction(db, (trx) => countNext(trx, 70, [shardOf(shopper)]))
    expect(await stands('A-3')).toEqual([30, 10])
  })

  test('that missed its order, as two processes counted them in one moment, is sent after it', async () => {
    await writeEvents(db, [order('A-4', -10, '7'.repeat(32), 20)])
    await tallyAll(db)
    const [waiting] = await db('waiting_refunds')
    await db('waiting_refunds').delete()
    await writeEvents(db, [order('A-4', 30)])
    await tallyAll(db)
    await db('waiting_refunds').insert(waiting)
    expect(await sendMissedRefunds(db)).toBe(1)
    await tallyAll(db)
    expect(await stands('A-4')).toEqual([30, 10])
    expect(await sendMissedRefunds(db)).toBe(0)
  })
})

test('who counts some visitors waits for nobody who counts others, however many there are of each', async () => {
  const people = Array.from({ length: 2400 }, (_, number) => number.toString(16).padStart(32, 'e'))
  const [mine, theirs] = [people.slice(0, 1200), people.slice(1200)]
  const last = { at: new Date(), seq: 1 }
  const crowd = 99
  await inTransaction(db, (trx) =>
    writeVisitors(
      trx,
      crowd,
      people.map((visitor) => ({ visitor, state: unknownVisitor(), last })),
    ),
  )
  const orderOf = (visitor: string, seq: number, value: number) =>
    ({ seq, crowd, event: { visitor, at: last.at, kind: 'order', order: `of ${visitor}`, value } }) as const
  const refunds = (trx: Knex, of: readonly string[], from: number) =>
    sendRefundsHome(
      trx,
      of.slice(0, 3).map((visitor, index) => orderOf(visitor, from + index, -1)),
      () => true,
      () => Promise.resolve([]),
    )
  await refunds(db, mine, 1)
  await refunds(db, theirs, 11)
  const meets = async (trx: Knex, of: readonly string[], from: number) => {
    await trx.raw('SET SESSION innodb_lock_wait_timeout = 1')
    await readVisitors(trx, crowd, of, true)
    const orders = of.slice(0, 3).map((visitor, index) => orderOf(visitor, from + index, 5))
    await sendRefundsHome(
      trx,
      orders,
      () => true,
      () => Promise.resolve([]),
    )
  }
  await db.transaction(
    async (one) => {
      await meets(one, mine, 21)
      await db.transaction((other) => meets(other, theirs, 31), { isolationLevel: 'read committed' })
    },
    { isolationLevel: 'read committed' },
  )
  expect(await db('waiting_refunds').where('number', 'like', 'of %')).toEqual([])
  await db('ledger_visitors').where({ crowd }).delete()
})

test('a rebuild from the events gives the same numbers', async () => {
  const before = await counts()
  await db.transaction(forgetCounts)
  expect(await db('tallies')).toEqual([])
  await tallyAll(db)
  expect(await counts()).toEqual(before)
})

test('a rehearsal leaves the live counts and the site’s statistics as they are', async () => {
  const live = async () => [await db('tallies').where({ crowd: 0 }), await db('daily')]
  const before = await live()
  await writeEvents(db, crowdOf(1, 7))
  await tallyAll(db)
  expect(await live()).toEqual(before)
  expect((await db('tallies').where({ crowd: 7 })).length).toBeGreaterThan(0)
})

test('results are read per crowd, and the sentence follows the numbers', async () => {
  const live = await act(db, publisher, 'result.read', { test: round.test, crowd: 0 })
  const rehearsed = await act(db, publisher, 'result.read', { test: round.test, crowd: 7 })
  expect(live?.rates.map(({ exposed }) => exposed)).toEqual(rehearsed?.rates.map(({ exposed }) => exposed))
  expect(live?.rates.reduce((sum, { exposed }) => sum + exposed, 0)).toBe(400)
  expect(live?.sentence).toContain('cannot say yet')
  expect(await act(db, publisher, 'result.read', { test: round.test, crowd: 8 })).toMatchObject({
    rates: [{ exposed: 0 }, { exposed: 0 }],
  })
})

test('who came is told day by day, with where from, on what, and who left at once, of the site and of one page', async () => {
  const at = new Date()
  const came = (visitor: string, source: string, device: string) => ({
    id: visitor,
    crowd: 0,
    visitor,
    at,
    kind: 'page' as const,
    document: testPage.id,
    path: '/',
    pageType: 'Page',
    arrival: { source, device },
  })
  const [one, two] = ['1'.repeat(32), '2'.repeat(32)]
  const before = await act(db, publisher, 'site.figures', {})
  const further = { ...came(one, '', ''), id: '3'.repeat(32), document: donePage.id, arrival: null }
  await writeEvents(db, [came(one, 'search', 'phone'), came(two, 'search', 'computer'), further])
  await tallyAll(db)
  const site = await act(db, publisher, 'site.figures', {})
  const [was, is] = [before.days.at(-1), site.days.at(-1)]
  if (was === undefined || is === undefined) throw new Error('no days')
  expect(site.days).toHaveLength(28)
  expect([is.visitors - was.visitors, is.views - was.views, is.visits - was.visits, is.bounced - was.bounced]).toEqual([
    2, 3, 2, 1,
  ])
  expect(site.sources.find(({ name }) => name === 'search')).toEqual({ name: 'search', visits: 2 })
  expect(site.devices.map(({ name }) => name)).toEqual(expect.arrayContaining(['phone', 'computer']))
  const page = await act(db, publisher, 'site.figures', { document: donePage.id })
  expect(page.days.at(-1)).toMatchObject({ views: 1, visits: 0, bounced: 0 })
})

test('those who saw a version are also counted by what is known of them, and the rows of a trait add up to the whole', async () => {
  await writeEvents(db, crowdOf(8, 11))
  await tallyAll(db)
  const whole = (await rowsOfRounds(db, 11, [round.id])).get(round.id) ?? []
  const sum = (of: 'exposed' | 'converters', goal: string) =>
    whole.filter((row) => row.goal === goal).reduce((total, row) => total + row[of], 0)
  const rows = await segmentsOf(db, 11, round.id, round.design.primary ?? ('' as never))
  const inTrait = (trait: string, of: 'exposed' | 'converters') =>
    rows.filter((row) => row.trait === trait).reduce((total, row) => total + row[of], 0)
  const values = (trait: string) => new Set(rows.filter((row) => row.trait === trait).map(({ value }) => value))
  expect(values('device')).toEqual(new Set(['phone', 'computer', 'tablet']))
  expect([values('source'), values('returning')]).toEqual([new Set(['direct']), new Set(['new'])])
  expect([...values('region')].sort()).toEqual(regions.map(({ code }) => code))
  // Of some nobody knows where they are: they are in no row of a region.
  expect(inTrait('region', 'exposed')).toBeLessThan(sum('exposed', ''))
  for (const trait of ['device', 'source', 'returning']) {
    expect(inTrait(trait, 'exposed')).toBe(sum('exposed', ''))
    expect(inTrait(trait, 'converters')).toBe(sum('converters', round.design.primary ?? ''))
  }
})

test('how many of those who came in the last week met a running test, and how many none', async () => {
  await db('ledger_visitors').where({ crowd: 0 }).update({ last_at: new Date() })
  const met = await testsMet(db, new Set([round.id]))
  const all = Number((await db('ledger_visitors').where({ crowd: 0 }).count({ total: '*' }).first())?.total)
  // Three others only looked at pages, in this file; everybody else was drawn.
  expect([met[0], met.reduce((sum, many) => sum + many, 0)]).toEqual([3, Math.min(2000, all)])
  expect((await act(db, publisher, 'test.capacity', {})).met).toEqual(met)
  expect(await testsMet(db, new Set())).toEqual([Math.min(2000, all)])
  await db('ledger_visitors')
    .where({ crowd: 0 })
    .update({ last_at: new Date('2026-01-01T00:00:00Z') })
  expect(await testsMet(db, new Set([round.id]))).toEqual([0])
})
