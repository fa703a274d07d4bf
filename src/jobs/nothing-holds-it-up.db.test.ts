import type { DocumentId } from '@/core/ids'
import type { Database } from '@/server/database/connect'
import { addToRows } from '@/server/ledger/rows'
import { writeEvents } from '@/server/stores/events'
import { forgetProcesses, sayServed } from '@/server/stores/site-processes'
import { act, editor, freshDatabase, testPage } from '@/server/test-database'
import type { StampedEvent } from '@/core/events'
import { tallyAll } from './work'

jest.mock('@/server/ledger/rows', () => {
  const actual = jest.requireActual<object & { addToRows: typeof addToRows }>('@/server/ledger/rows')
  return { ...actual, addToRows: jest.fn(actual.addToRows) }
})
const counting = jest.mocked(addToRows)
const { addToRows: count } = jest.requireActual<{ addToRows: typeof addToRows }>('@/server/ledger/rows')

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(async () => {
  counting.mockImplementation(count)
  await db.destroy()
})

const views = (count: number, page = testPage.id) =>
  Array.from({ length: count }, (_, index): StampedEvent => ({
    id: `${page === testPage.id ? 'a' : page === 'poison' ? 'b' : 'c'}${String(index).padStart(31, '0')}`,
    crowd: 0,
    visitor: String(index).padStart(32, '0'),
    at: new Date(),
    kind: 'page',
    document: page,
    path: '/',
    pageType: 'Page',
    arrival: null,
  }))
const today = () => act(db, editor, 'today.read', {})

test('an event that cannot be read is set aside and named, and all others are counted', async () => {
  await writeEvents(db, views(30))
  await db('events')
    .where('id', Buffer.from(`a${'1'.padStart(31, '0')}`, 'hex'))
    .update({ document_id: 'Not An Id' })
  await tallyAll(db)
  const now = await today()
  expect([now.viewsToday, now.counting]).toMatchObject([29, { waiting: 0, setAside: 1 }])
})

test('an event that cannot be counted is found among thousands and set aside; the database being away sets nothing aside', async () => {
  await writeEvents(db, [...views(300), ...views(1, 'poison' as DocumentId)])
  counting.mockImplementation((trx, crowd, rows) => {
    if (rows.some(({ key }) => key.includes('poison'))) throw new RangeError('cannot be counted')
    return count(trx, crowd, rows)
  })
  await tallyAll(db)
  expect([(await today()).viewsToday, (await today()).counting]).toMatchObject([300, { waiting: 0, setAside: 1 }])
  counting.mockRejectedValue(Object.assign(new Error('away'), { code: 'ECONNREFUSED' }))
  await writeEvents(db, views(2, 'later' as DocumentId))
  await expect(tallyAll(db)).rejects.toThrow('away')
  expect((await today()).counting).toMatchObject({ waiting: 2, setAside: 1 })
})

test('an event whose values the database refuses is set aside and named, and all others are counted', async () => {
  const refused = Object.assign(new Error("Out of range value for column 'times'"), {
    errno: 1264,
    code: 'ER_WARN_DATA_OUT_OF_RANGE',
  })
  await writeEvents(db, [...views(40), ...views(1, 'poison' as DocumentId)])
  counting.mockImplementation((trx, crowd, rows) =>
    rows.some(({ key }) => key.includes('poison')) ? Promise.reject(refused) : count(trx, crowd, rows),
  )
  const named: { event: number; reason: unknown }[] = []
  await tallyAll(db, undefined, (aside) => named.push(aside))
  expect([(await today()).viewsToday, (await today()).counting]).toMatchObject([40, { waiting: 0, setAside: 1 }])
  expect(named).toEqual([{ event: 41, reason: refused }])
})

test('what each site process really serves is said, with the page that it could not make', async () => {
  const served = { name: 'host:4200', release: 1, faults: [{ id: 'front', words: 'cannot be drawn' }], at: new Date() }
  await sayServed(db, served)
  await sayServed(db, { ...served, name: 'gone:4200', at: new Date(Date.now() - 2 * 86_400_000) })
  expect((await act(db, editor, 'site.serving', {})).served).toEqual([
    { name: 'host:4200', release: 1, faults: [{ id: 'front', title: 'Front', words: 'cannot be drawn' }] },
  ])
  await forgetProcesses(db)
  expect(await db('site_processes').select('name')).toEqual([{ name: 'host:4200' }])
})
