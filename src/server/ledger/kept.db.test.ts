import { ORIGINAL } from '@/core/decide'
import type { Round } from '@/core/experiment'
import { visitors } from '@/core/simulate'
import { inTransaction, type Database } from '../database/connect'
import { eventsOf } from '../rehearse'
import { writeEvents } from '../stores/events'
import { roundsOf } from '../stores/tests'
import { act, freshDatabase, publisher, readyTest } from '../test-database'
import { countNext } from './count'
import { recountAll } from './recount'
import { eraseVisitor, pruneEvents, pruneVisitors } from './retention'

let db: Database
let round: Round
const start = new Date('2026-03-02T00:00:00Z')
const day = (days: number) => new Date(start.getTime() + days * 86_400_000)

beforeEach(async () => {
  db = await freshDatabase()
  const { test, lock } = await readyTest(db, 'Other')
  await act(db, publisher, 'test.start', { test, lock })
  round = (await roundsOf(db, 1))[0]?.snapshot as Round
  await db('rounds').update({ started_at: new Date('2026-01-01T00:00:00Z') })
  await write(crowd(1, 6))
})
afterEach(() => db.destroy())

const crowd = (seed: number, days: number) =>
  [...visitors({ seed, visitors: 150, days, startsAt: start })].flatMap((visitor) =>
    eventsOf(visitor, round, 0, new Map([[ORIGINAL, 0.4]])),
  )
async function write(events: ReturnType<typeof crowd>): Promise<void> {
  await writeEvents(db, events)
  while ((await inTransaction(db, (trx) => countNext(trx, 400))) > 0);
}
const rows = async () =>
  JSON.stringify([await db('tallies').orderBy(['goal_id', 'version', 'day']), await db('daily').orderBy(['subject', 'day'])])
const recounted = () => recountAll(db, () => undefined)
const size = async (table: string) => Number((await db(table).count({ total: '*' }).first())?.total)

test('counted again, everything is as it was; a row that is wrong is named and put right', async () => {
  const before = await rows()
  expect(await recounted()).toEqual([])
  expect(await rows()).toBe(before)
  await db('tallies').where('converters', '>', 0).limit(1).increment('converters', 3)
  expect(await recounted()).toMatchObject([{ table: 'tallies', rows: 1, first: expect.stringMatching(/converters -3$/) }])
  expect(await rows()).toBe(before)
})

test('a recount that is broken off changes nothing, and the next one does not mind', async () => {
  const before = await rows()
  const broken = recountAll(db, () => {
    throw new Error('killed')
  })
  await expect(broken).rejects.toThrow('killed')
  expect(await rows()).toBe(before)
  expect(await recounted()).toEqual([])
})

test('a recount that was killed just after the new took the place of the old can be run again', async () => {
  for (const table of ['tallies', 'ledger_visitors', 'firsts', 'orders']) await db.raw(`CREATE TABLE ${table}_old LIKE ${table}`)
  const before = await rows()
  expect(await recounted()).toEqual([])
  expect(await rows()).toBe(before)
  expect(await db('information_schema.tables').where('table_name', 'like', '%\\_old')).toEqual([])
})

test('who came first and what was ordered is counted again as well', async () => {
  const registers = async () =>
    JSON.stringify([await db('firsts').orderBy(['subject', 'visitor']), await db('orders').orderBy('number')])
  const [someone] = crowd(1, 6)
  const ordered = {
    kind: 'order' as const,
    order: 'A1',
    value: 12,
    crowd: 0,
    visitor: someone?.visitor ?? '',
    id: 'd'.repeat(32),
  }
  await write([{ ...ordered, at: day(8) }])
  await db('orders').update({ closed: 1 })
  const before = await registers()
  await db('firsts').limit(3).delete()
  await db('firsts')
    .where({
      subject: await db('firsts')
        .min({ subject: 'subject' })
        .first()
        .then((row) => row?.subject),
    })
    .limit(1)
    .update({ day: '2020-01-01' })
  await db('orders').update({ value: 99 })
  const found = await recounted()
  expect(found.map(({ table }) => table).sort()).toEqual(['firsts', 'orders'])
  expect(await registers()).toBe(before)
  // Also of those whose events are gone.
  while ((await pruneEvents(db, 10, day(30))) > 0);
  expect(await recounted()).toEqual([])
  expect(await registers()).toBe(before)
})

test('events that are old go, and every number stays, also when their visitors come again and all is counted again', async () => {
  const before = await rows()
  const events = await size('events')
  while ((await pruneEvents(db, 10, day(13))) > 0);
  expect(await size('events')).toBeLessThan(events)
  expect(await size('events')).toBeGreaterThan(0)
  expect(await rows()).toBe(before)
  expect(await recounted()).toEqual([])
  // The same people again, three weeks later: whoever converted once does not convert again.
  const again = crowd(1, 6).map((event, index) => ({
    ...event,
    id: index.toString(16).padStart(32, 'c'),
    at: new Date(event.at.getTime() + 21 * 86_400_000),
  }))
  const converters = async () => Number((await db('tallies').sum({ total: 'converters' }).first())?.total)
  const was = await converters()
  await write(again)
  expect(await converters()).toBe(was)
  expect(await recounted()).toEqual([])
})

test('of visitors who do not come any more nothing is left but numbers', async () => {
  const before = await rows()
  // Those who came last ten days before stay, with what they did.
  while ((await pruneVisitors(db, 90, day(40))) > 0);
  expect(await size('events')).toBeGreaterThan(0)
  while ((await pruneVisitors(db, 90, day(500))) > 0);
  expect([await size('events'), await size('ledger_visitors'), await size('firsts')]).toEqual([0, 0, 0])
  expect(await rows()).toBe(before)
  expect(await recounted()).toEqual([])
})

test('a visitor who asks to be forgotten is, and no number changes', async () => {
  const before = await rows()
  const [first] = crowd(1, 6)
  const visitor = first?.visitor ?? ''
  expect((await eraseVisitor(db, visitor)).events).toBeGreaterThan(1)
  const key = Buffer.from(visitor, 'hex')
  for (const table of ['events', 'ledger_visitors', 'firsts', 'form_entries', 'orders'])
    expect(await db(table).where({ visitor: key })).toEqual([])
  expect(await rows()).toBe(before)
  expect(await recounted()).toEqual([])
})
