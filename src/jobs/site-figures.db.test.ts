import type { DocumentId } from '@/core/ids'
import type { StampedEvent } from '@/core/events'
import { eventIdOf } from '@/serving/event-id'
import { inTransaction, type Database } from '@/server/database/connect'
import { writeEvents } from '@/server/stores/events'
import { forgetCounts } from '@/server/ledger/count'
import { act, asAlways, donePage, editor, freshDatabase, publisher, testPage } from '@/server/test-database'
import { tallyAll } from './work'

const MINUTE = 60_000
const DAY = 86_400_000
/** At noon, so that a visit and the next are of one day. */
const began = Math.floor(Date.now() / DAY) * DAY - 2.5 * DAY
const visitorOf = (number: number) => eventIdOf(`visitor ${number}`)

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

/** A visit by way of these pages, a minute on each; who looks at one page alone stays no longer than to leave at once. */
function visit(visitor: number, pages: readonly DocumentId[], source = 'search', minutes = 0): StampedEvent[] {
  return pages.map((document, step) => ({
    id: eventIdOf(`${visitor} ${minutes} ${step}`),
    crowd: 0,
    visitor: visitorOf(visitor),
    at: new Date(began + (minutes + step) * MINUTE),
    kind: 'page',
    document,
    path: document === testPage.id ? '/' : '/done',
    pageType: 'Page',
    arrival: step === 0 ? { source, device: visitor % 2 === 0 ? 'phone' : 'computer' } : null,
  }))
}
const [front, done] = [testPage.id, donePage.id]

test('the site’s own figures: visitors, views, visits, who left at once, and where they came from', async () => {
  await writeEvents(db, [
    ...visit(1, [front]),
    ...visit(2, [front, done], 'newsletter'),
    ...visit(3, [done, front, done]),
    ...visit(1, [front, done], 'direct', 60),
  ])
  await tallyAll(db)
  const sum = async (document: DocumentId | null) => {
    const { days } = await act(db, editor, 'site.figures', { document })
    const total = (of: 'visitors' | 'views' | 'visits' | 'bounced') => days.reduce((all, day) => all + day[of], 0)
    return [total('visitors'), total('views'), total('visits'), total('bounced')]
  }
  expect(await sum(null)).toEqual([3, 8, 4, 1])
  expect(await sum(front)).toEqual([3, 4, 3, 1])
  const { sources, devices, pages } = await act(db, editor, 'site.figures', {})
  expect(sources).toEqual([
    { name: 'search', visits: 2 },
    { name: 'direct', visits: 1 },
    { name: 'newsletter', visits: 1 },
  ])
  expect(devices.map(({ name, visits }) => [name, visits])).toEqual([
    ['computer', 3],
    ['phone', 1],
  ])
  expect(pages.map(({ id, views }) => [id, views])).toEqual([
    [done, 4],
    [front, 4],
  ])
})

/** Two hundred come to the front page; a quarter go on, and half of these buy. */
async function aMonth(): Promise<void> {
  const goal = await act(db, editor, 'goal.create', {
    name: 'Bought',
    wiring: { kind: 'event', event: 'bought' },
    worth: 40,
    worthIn: 'money',
  })
  await act(db, publisher, 'goal.publish', { goal: goal.id, lock: 0 })
  await asAlways(db)
  const events = Array.from({ length: 200 }, (_, number): StampedEvent[] => {
    const pages = visit(number, number % 4 === 0 ? [front, done] : [front])
    const bought: StampedEvent = {
      id: eventIdOf(`bought ${number}`),
      crowd: 0,
      visitor: visitorOf(number),
      at: new Date(began + 5 * MINUTE),
      kind: 'event',
      name: 'bought',
      value: null,
    }
    return number % 8 === 0 ? [...pages, bought] : pages
  }).flat()
  await writeEvents(db, events)
  await tallyAll(db)
}

test('where to test next: visitors × the share whose last page it was × what one who goes on brings', async () => {
  await aMonth()
  const { places, currency } = await act(db, editor, 'site.next', {})
  // 25 of 200 bought for 40 each, so each of 200 visits brought 5; 150 of them ended here.
  expect(places).toMatchObject([{ kind: 'page', id: front, came: 200, lost: 150, in: 'money', atStake: 150 * 5, share: 0.75 }])
  expect(currency).toBe('EUR')
  expect((await act(db, editor, 'site.next', { document: done })).places).toEqual([])
  expect((await act(db, editor, 'site.next', { document: front })).places).toHaveLength(1)
})

test('a page that was the last of a visit is not any more when the visit goes on, also when it is counted later', async () => {
  const [first, ...rest] = visit(7, [front, done, front])
  await writeEvents(db, [first!])
  await tallyAll(db)
  const last = async () => {
    const rows: { subject: string; times: number }[] = await db('daily').where('subject', 'like', 'l:%').orderBy('subject')
    return rows.filter(({ times }) => times !== 0).map(({ subject, times }) => [subject, times])
  }
  expect(await last()).toEqual([[`l:${front}`, 1]])
  await writeEvents(db, rest.slice(0, 1))
  await tallyAll(db)
  expect(await last()).toEqual([[`l:${done}`, 1]])
  await writeEvents(db, rest.slice(1))
  await tallyAll(db)
  const counted = await last()
  expect(counted).toEqual([[`l:${front}`, 1]])
  await inTransaction(db, forgetCounts)
  await tallyAll(db)
  expect(await last()).toEqual(counted)
})
