import type { Database } from '../database/connect'
import { act, attempt, editor, freshDatabase, readyTest } from '../test-database'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

test('each version is drawn as its page would show it, the original first, before the test has started', async () => {
  const { test: id, variant, lock } = await readyTest(db, 'Warm words')
  const { page, shows } = await act(db, editor, 'test.drawn', { test: id, lock })
  expect(page).not.toBe('')
  expect(shows.map(({ version }) => version)).toEqual(['original', variant])
  const [original, warm] = shows.map(({ html }) => html)
  expect(warm).toContain('Warm words')
  expect(original).not.toContain('Warm words')
  // They are looked at in the studio and count nothing, whatever they bring along.
  for (const { html } of shows) expect(html).not.toMatch(/<script/i)
  expect(await db('events').first()).toBeUndefined()
})

test('nobody is shown a draft who is not signed in, and of a test that is gone there is nothing to draw', async () => {
  const { test: id, lock } = await readyTest(db, 'Other words')
  expect((await attempt(db, null, 'test.drawn', { test: id, lock })).status).toBe(401)
  expect((await attempt(db, editor, 'test.drawn', { test: 't-999', lock } as never)).status).toBe(404)
})
