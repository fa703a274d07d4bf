import ICAL from 'ical.js'
import { scheduleSchema } from '@/core/experiment'
import type { Database } from '@/server/database/connect'
import { act, editor, freshDatabase, publisher, readyTest } from '@/server/test-database'
import { calendarAddress, calendarFile, mayReadCalendar } from './calendar-file'

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

/** With a name that an unfolded or unescaped line would not survive. */
const NAME = 'Plans; first, “prices”\\then \u{1F33F} a long list of all that is included in every single month of a year'

async function running(): Promise<void> {
  const { test, lock, design } = await readyTest(db, 'Other')
  const schedule = scheduleSchema.parse({ end: '2099-03-29T02:30' })
  const saved = await act(db, editor, 'test.save', { test, lock, design: { ...design, name: NAME, schedule } })
  await act(db, publisher, 'test.start', { test, lock: saved.lock })
}

test('starts and ends are read by a program of the standard, whatever a test is called', async () => {
  await running()
  const text = await calendarFile(db, new Date())
  expect(text.split('\r\n').every((line) => Buffer.byteLength(line) <= 75)).toBe(true)
  const [event, ...others] = new ICAL.Component(ICAL.parse(text)).getAllSubcomponents('vevent').map((one) => new ICAL.Event(one))
  expect([event?.summary, others]).toEqual([NAME, []])
  expect(event?.endDate.toJSDate()).toEqual(new Date('2099-03-29T02:30:00Z'))
  expect(event?.uid).toMatch(/^t-1-\d+@tests$/)
})

test('an event is stamped with when it became as it is, and not with when it was asked for', async () => {
  await running()
  const stamp = async (at: Date) => /DTSTAMP:(\S+)/.exec(await calendarFile(db, at))?.[1]
  const first = await stamp(new Date())
  const { changed_at: changed } = (await db('tests').first('changed_at')) as { changed_at: Date }
  expect(first).toBe(changed.toISOString().replace(/[-:]|\.\d+/g, ''))
  expect(Math.abs(Date.now() - changed.getTime())).toBeLessThan(60_000)
  expect(await stamp(new Date(Date.now() + 40 * 86_400_000))).toBe(first)
  await db('tests').update({ name: 'Another name', changed_at: new Date(changed.getTime() + 5000) })
  expect(await stamp(new Date())).not.toBe(first)
})

test('an address is for one account, and for nobody who made it up', async () => {
  const [id] = (await db('accounts').pluck('id')) as string[]
  if (id === undefined) throw new Error('no account')
  const address = new URL(await calendarAddress(db, id))
  const key = address.searchParams.get('key') ?? ''
  expect(await mayReadCalendar(db, id, key)).toBe(true)
  for (const [who, with_] of [
    [id, ''],
    [id, `${key.slice(1)}A`],
    ['constructor', key],
    [`${id}x`, key],
  ] as const)
    expect(await mayReadCalendar(db, who, with_)).toBe(false)
  await db('accounts').where({ id }).update({ disabled: 1 })
  expect(await mayReadCalendar(db, id, key)).toBe(false)
})

test('the weeks of a calendar have what ran, runs and is planned, and nothing else', async () => {
  await running()
  const { test, design, lock } = await readyTest(db, 'Third')
  const schedule = scheduleSchema.parse({ start: '2099-01-05T09:00' })
  await act(db, editor, 'test.save', { test, lock, design: { ...design, schedule } })
  const between = async (from: string, weeks: number) => (await act(db, editor, 'test.calendar', { from, weeks })).lines
  expect(await between('2020-01-06', 4)).toEqual([])
  expect((await between('2099-01-05', 4)).map(({ runs }) => runs.map(({ isPlanned }) => isPlanned))).toEqual([[false], [true]])
  expect(await between('2099-04-06', 4)).toMatchObject([{ runs: [{ isPlanned: true, to: null }] }])
})

test('a calendar’s address holds until a new one is made', async () => {
  const keyOf = (address: string) => new URL(address).searchParams.get('key') ?? ''
  const before = keyOf((await act(db, publisher, 'test.calendarAddress', {})).address)
  expect(await mayReadCalendar(db, publisher.id, before)).toBe(true)
  const after = keyOf((await act(db, publisher, 'test.newCalendarAddress', {})).address)
  expect([await mayReadCalendar(db, publisher.id, before), await mayReadCalendar(db, publisher.id, after)]).toEqual([false, true])
})
