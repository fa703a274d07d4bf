import type { TestId } from '@/core/ids'
import type { Database } from '../database/connect'
import { act, attempt, editor, freshDatabase, publisher, testPage } from '../test-database'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

const node = 'front-title' as never

async function readyTest(words: string): Promise<{ test: TestId; lock: number }> {
  const made = await act(db, editor, 'version.create', { document: testPage.id, node, manner: 'chance', from: null })
  await act(db, editor, 'version.save', {
    id: made.id,
    lock: made.lock,
    edits: [{ kind: 'set', node, prop: 'words', value: words }],
  })
  const goal = await act(db, editor, 'goal.create', { name: 'Done', wiring: { kind: 'page', document: 'done' as never } })
  const { test } = await act(db, editor, 'test.create', { document: testPage.id, node })
  const { design, lock } = await act(db, editor, 'test.open', { test })
  return { test, lock: (await act(db, editor, 'test.save', { test, lock, design: { ...design, primary: goal.id } })).lock }
}

test('of two tests on one part that are started at the same moment, one runs and the other is told of it', async () => {
  const tests = [await readyTest('One'), await readyTest('Two')]
  const answers = await Promise.all(tests.map(({ test, lock }) => attempt(db, publisher, 'test.start', { test, lock })))
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 422])
  expect(JSON.stringify(answers)).toContain('is already testing this part')
})
