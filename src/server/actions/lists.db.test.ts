import type { Database } from '../database/connect'
import { act, freshDatabase, publisher, readyTest } from '../test-database'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

/** How many questions a screen asks of the database where nothing has changed since it was looked at. */
async function questions(ask: () => Promise<unknown>): Promise<number> {
  await ask()
  let asked = 0
  const count = () => void asked++
  db.on('query', count)
  await ask()
  db.removeListener('query', count)
  return asked
}

/** Whoever opens a test waits until it is known what visitors would get. */
async function made(words: string): Promise<void> {
  const { test } = await readyTest(db, words)
  await act(db, publisher, 'test.open', { test })
}

test('a list of tests asks no more of the database for ten tests than for two', async () => {
  for (let number = 0; number < 2; number++) await made(`One of two ${number}`)
  const list = () => act(db, publisher, 'test.list', {})
  const today = () => act(db, publisher, 'today.read', {})
  const few = [await questions(list), await questions(today)]
  for (let number = 0; number < 8; number++) await made(`One of eight ${number}`)
  expect((await list()).lines).toHaveLength(10)
  expect([await questions(list), await questions(today)]).toEqual(few)
})
