import type { Database } from '../database/connect'
import { editor, freshDatabase } from '../test-database'
import { choosePassword, createAccount } from './accounts'
import { readSession, signIn, signOut } from './sessions'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

const password = 'a-long-password'

test('a session opens with the right password, is known by its token only, and ends', async () => {
  const { token } = await signIn(db, 'Emil@Example.org', password, '192.0.2.1')
  expect((await readSession(db, token, false))?.account).toEqual(editor)
  expect(JSON.stringify(await db('sessions'))).not.toContain(token)
  await signOut(db, token)
  expect(await readSession(db, token, false)).toBeNull()
  expect(await readSession(db, 'made-up', false)).toBeNull()
})

test('an old token is exchanged for a new one, and soon stops working', async () => {
  const { token } = await signIn(db, editor.email, password, '192.0.2.1')
  await db('sessions').update({ rotated_at: new Date(Date.now() - 2 * 3_600_000) })
  const renewed = (await readSession(db, token, true))?.renewed ?? ''
  expect((await readSession(db, renewed, false))?.account).toEqual(editor)
  await db('sessions')
    .where('expires_at', '<', new Date(Date.now() + 61_000))
    .update({ expires_at: new Date(Date.now() - 1) })
  expect(await readSession(db, token, false)).toBeNull()
})

test('a one-time password is known as such until another is chosen, which ends every other session', async () => {
  await createAccount(db, { id: 'first', email: 'first@example.org', name: 'First', role: 'publisher', password, oneTime: true })
  const { token } = await signIn(db, 'first@example.org', password, '192.0.2.1')
  const other = await signIn(db, 'first@example.org', password, '192.0.2.1')
  expect((await readSession(db, token, false))?.oneTime).toBe(true)
  const next = await choosePassword(db, 'first', 'another-long-password')
  expect((await readSession(db, next, false))?.oneTime).toBe(false)
  expect([await readSession(db, token, false), await readSession(db, other.token, false)]).toEqual([null, null])
  await expect(signIn(db, 'first@example.org', password, '192.0.2.1')).rejects.toThrow('not right')
})

test('a wrong password and an unknown account are refused in the same words, and after eight tries even the right one', async () => {
  const tries = (email: string, word: string) =>
    signIn(db, email, word, '192.0.2.9').then(
      () => 'in',
      (reason: Error) => reason.message,
    )
  expect(await tries('nobody@example.org', password)).toBe(await tries(editor.email, 'wrong'))
  for (let count = 0; count < 7; count++) await tries(editor.email, 'wrong')
  expect(await tries(editor.email, password)).toContain('Too many tries')
  expect(await signIn(db, 'paula@example.org', password, '192.0.2.10')).toMatchObject({ account: { name: 'Paula' } })
})
