import type { Database } from '../database/connect'
import { act, editor, freshDatabase, readyTest, testPage } from '../test-database'

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

const find = async (words: string) => (await act(db, editor, 'find.things', { words })).found

test('anything is found by a few of its words, and where it is opened', async () => {
  const { test } = await readyTest(db, 'Welcome')
  const { design } = await act(db, editor, 'test.open', { test })
  expect(await find(design.name.slice(0, 7))).toContainEqual(
    expect.objectContaining({ kind: 'test', name: design.name, address: `/tests/${test}` }),
  )
  expect(await find('hell')).toContainEqual(
    expect.objectContaining({ kind: 'part', name: 'Hello', address: `/site/${testPage.id}?part=front-title` }),
  )
  expect(await find('/done')).toContainEqual(expect.objectContaining({ kind: 'page', about: '/done' }))
  // Signs of a pattern are letters like others, and what lies in the bin is not found.
  expect(await find('%')).toEqual([])
  await db('documents').update({ binned_at: new Date() })
  expect((await find('hell')).filter(({ kind }) => kind !== 'test' && kind !== 'goal')).toEqual([])
})
