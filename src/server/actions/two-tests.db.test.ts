import type { Database } from '../database/connect'
import { attempt, freshDatabase, publisher, readyTest } from '../test-database'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

test('of two tests on one part that are started at the same moment, one runs and the other is told of it', async () => {
  const tests = [await readyTest(db, 'One'), await readyTest(db, 'Two')]
  const answers = await Promise.all(tests.map(({ test, lock }) => attempt(db, publisher, 'test.start', { test, lock })))
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 422])
  expect(JSON.stringify(answers)).toContain('is already testing this part')
})
