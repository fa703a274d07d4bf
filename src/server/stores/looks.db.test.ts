import type { TestId } from '@/core/ids'
import type { Database } from '../database/connect'
import { act, administrator, editor, freshDatabase, publisher, readyTest } from '../test-database'
import { looksAt, readLook } from './looks'

let db: Database
let test1: TestId
beforeEach(async () => {
  db = await freshDatabase()
  test1 = (await readyTest(db, 'Other')).test
})
afterEach(() => db.destroy())

const link = async (who = editor) => {
  const { address } = await act(db, who, 'test.look', { test: test1 })
  return /\/see\/([\w-]+)/.exec(address)?.[1] ?? ''
}
const opens = async (key: string) => (await readLook(db, key)) !== null

test('links to look at a test are listed with when they end, and taken back one by one or together', async () => {
  const keys = [await link(), await link(publisher), await link()]
  const { looks } = await act(db, editor, 'test.looks', { test: test1 })
  expect(looks.map(({ by }) => by)).toEqual(['Emil', 'Paula', 'Emil'])
  expect(looks.every(({ until }) => new Date(until) > new Date())).toBe(true)
  expect(await act(db, editor, 'test.takeLooksBack', { test: test1, number: looks[1]?.number ?? 0 })).toEqual({ taken: 1 })
  expect(await Promise.all(keys.map(opens))).toEqual([true, false, true])
  expect(await act(db, editor, 'test.takeLooksBack', { test: test1 })).toEqual({ taken: 2 })
  expect(await Promise.all(keys.map(opens))).toEqual([false, false, false])
})

test('they end with the test that is removed, and with the account of whoever made them', async () => {
  const [mine, theirs] = [await link(), await link(publisher)]
  await act(db, administrator, 'person.disable', { person: publisher.id as never, disabled: true })
  expect([await opens(mine), await opens(theirs)]).toEqual([true, false])
  await act(db, editor, 'test.remove', { test: test1 })
  expect([await opens(mine), await looksAt(db, test1)]).toEqual([false, []])
})
