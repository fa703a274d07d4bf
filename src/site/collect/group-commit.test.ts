import { GroupCommit, Overloaded } from './group-commit'
import { reportSchema, stamp, type StampedEvent } from '@/core/events'

const event = (n: number): StampedEvent => ({
  id: String(n),
  crowd: 0,
  visitor: 'v',
  at: new Date(0),
  kind: 'page',
  document: 'home' as never,
  path: '/',
  pageType: 'Plain',
  arrival: null,
})

test('senders that come together are written together and answered after the commit', async () => {
  const groups: number[] = []
  let committed = false
  const commits = new GroupCommit(async (events) => {
    groups.push(events.length)
    await new Promise((next) => setTimeout(next, 5))
    committed = true
  })
  await Promise.all([1, 2, 3, 4].map((n) => commits.add([event(n)]).then(() => expect(committed).toBe(true))))
  expect(groups).toEqual([4])
})

test('a failed write fails its own senders and not the next', async () => {
  let fail = true
  const commits = new GroupCommit(async () => {
    if (fail) throw new Error('database away')
  })
  await expect(commits.add([event(1)])).rejects.toThrow('database away')
  fail = false
  await expect(commits.add([event(1)])).resolves.toBeUndefined()
})

test('refuses at once what does not fit rather than growing without end', async () => {
  const commits = new GroupCommit(() => new Promise(() => {}), 2)
  void commits.add([event(1), event(2)])
  await expect(commits.add([event(3)])).rejects.toBeInstanceOf(Overloaded)
})

test('a report is taken whole or refused with the place of the fault', () => {
  const i = '0'.repeat(32)
  const good = reportSchema.parse({ d: 'home', e: [{ i, k: 'click', n: ['button', 'hero'] }] })
  expect(stamp(good, { visitor: 'v', at: new Date(0), crowd: 3, page: { path: '/', pageType: '' }, arrival: null })).toEqual([
    { id: i, crowd: 3, visitor: 'v', at: new Date(0), kind: 'click', document: 'home', nodes: ['button', 'hero'], markers: [] },
  ])
  const bad = reportSchema.safeParse({
    d: 'home',
    e: [
      { i, k: 'page' },
      { i: 'short', k: 'page' },
    ],
  })
  expect(bad.error?.issues[0]?.path).toEqual(['e', 1, 'i'])
})
