import { ORIGINAL } from '@/core/decide'
import { visitors } from '@/core/simulate'
import type { Round } from '@/core/experiment'
import { inTransaction, type Database } from '../database/connect'
import { eventsOf } from '../rehearse'
import { act, donePage, freshDatabase, publisher, readyTest, testPage } from '../test-database'
import { writeEvents } from './events'
import { forgetTallies, tallyNext } from './tally'
import { roundsOf } from './tests'

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
  while ((await inTransaction(on, (trx) => tallyNext(trx, 70))) > 0);
}

const crowd = (seed: number, source: number) =>
  [...visitors({ seed, visitors: 400, days: 3, startsAt: new Date('2026-03-02T00:00:00Z') })].flatMap((visitor) =>
    eventsOf(visitor, round, source, new Map([[ORIGINAL, 0.3]])),
  )

const tables = ['tallies', 'enrolments', 'conversions', 'firsts', 'daily'] as const
const counts = async () =>
  Object.fromEntries(
    await Promise.all(tables.map(async (table) => [table, (await db(table)).map((row: object) => JSON.stringify(row)).sort()])),
  )

test('events that are sent again, whole or in part, count once', async () => {
  const events = crowd(1, 0)
  await writeEvents(db, events)
  await tallyAll(db)
  const once = await counts()
  await writeEvents(db, events)
  await writeEvents(db, events.slice(100, 300))
  await tallyAll(db)
  expect(await counts()).toEqual(once)
})

test('the tallies are what the enrolments and conversions say, to the unit', async () => {
  const sum = async (column: string) => Number((await db('tallies').where({ source: 0 }).sum({ total: column }).first())?.total)
  const size = async (table: string, where: (query: ReturnType<Database>) => unknown) =>
    Number((await db(table).where({ source: 0 }).modify(where).count({ total: '*' }).first())?.total)
  expect(await sum('assigned')).toBe(await size('enrolments', () => undefined))
  expect(await sum('exposed')).toBe(await size('enrolments', (query) => query.whereNotNull('exposed_at')))
  expect(await sum('converters')).toBe(await size('conversions', () => undefined))
  expect(await sum('converters')).toBeGreaterThan(50)
})

test('a rebuild from the events gives the same numbers', async () => {
  const before = await counts()
  await db.transaction(forgetTallies)
  expect(await db('tallies')).toEqual([])
  await tallyAll(db)
  expect(await counts()).toEqual(before)
})

test('a rehearsal leaves the live counts and the site’s statistics as they are', async () => {
  const live = async () => [await db('tallies').where({ source: 0 }), await db('daily')]
  const before = await live()
  await writeEvents(db, crowd(1, 7))
  await tallyAll(db)
  expect(await live()).toEqual(before)
  expect((await db('tallies').where({ source: 7 })).length).toBeGreaterThan(0)
})

test('results are read per source, and the sentence follows the numbers', async () => {
  const live = await act(db, publisher, 'result.read', { test: round.test, source: 0 })
  const rehearsed = await act(db, publisher, 'result.read', { test: round.test, source: 7 })
  expect(live?.rates.map(({ exposed }) => exposed)).toEqual(rehearsed?.rates.map(({ exposed }) => exposed))
  expect(live?.rates.reduce((sum, { exposed }) => sum + exposed, 0)).toBe(400)
  expect(live?.sentence).toContain('too early')
  expect(await act(db, publisher, 'result.read', { test: round.test, source: 8 })).toMatchObject({
    rates: [{ exposed: 0 }, { exposed: 0 }],
  })
})

test('who came is told day by day, with where from, on what, and who left at once, of the site and of one page', async () => {
  const at = new Date()
  const came = (visitor: string, source: string, device: string) => ({
    id: visitor,
    source: 0,
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
