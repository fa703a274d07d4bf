import type { Database } from '../database/connect'
import { editor, freshDatabase } from '../test-database'
import { choosePassword, createAccount } from './accounts'
import { Failure } from '../failure'
import { readSession, signIn, signOut, signOutEverywhere } from './sessions'
import { waitAfter } from './throttle'

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

const due = () =>
  db('sessions')
    .where({ replaced: 0 })
    .update({ rotated_at: new Date(Date.now() - 2 * 3_600_000) })

test('an old token is exchanged for one new one, however many ask at once, and soon stops working', async () => {
  await db('sessions').delete()
  const { token } = await signIn(db, editor.email, password, '192.0.2.1')
  await due()
  const answers = await Promise.all(Array.from({ length: 10 }, () => readSession(db, token, true)))
  const renewed = answers.flatMap((session) => session?.renewed ?? [])
  expect([renewed.length, await db('sessions').count({ count: '*' }).first()]).toEqual([1, { count: 2 }])
  expect((await readSession(db, renewed[0], false))?.account).toEqual(editor)
  await db('sessions')
    .where('expires_at', '<', new Date(Date.now() + 61_000))
    .update({ expires_at: new Date(Date.now() - 1) })
  expect(await readSession(db, token, false)).toBeNull()
})

test('signing out ends every token that the session ever had, at once; everywhere, every session', async () => {
  const { token } = await signIn(db, editor.email, password, '192.0.2.1')
  await due()
  const renewed = (await readSession(db, token, true))?.renewed ?? ''
  const other = await signIn(db, editor.email, password, '192.0.2.1')
  await signOut(db, renewed)
  expect([await readSession(db, token, false), await readSession(db, renewed, false)]).toEqual([null, null])
  expect((await readSession(db, other.token, false))?.account).toEqual(editor)
  await signOutEverywhere(db, editor.id)
  expect(await readSession(db, other.token, false)).toBeNull()
})

test('a one-time password is known as such until another is chosen, which ends every other session', async () => {
  await createAccount(db, { id: 'first', email: 'first@example.org', name: 'First', role: 'publisher', password, oneTime: true })
  const { token } = await signIn(db, 'first@example.org', password, '192.0.2.1')
  const other = await signIn(db, 'first@example.org', password, '192.0.2.1')
  expect((await readSession(db, token, false))?.oneTime).toBe(true)
  const next = await choosePassword(db, 'first', 'kettle orchid plaster moon')
  expect((await readSession(db, next, false))?.oneTime).toBe(false)
  expect([await readSession(db, token, false), await readSession(db, other.token, false)]).toEqual([null, null])
  await expect(signIn(db, 'first@example.org', password, '192.0.2.1')).rejects.toThrow('not right')
})

const tries = (email: string, word: string, address: string) =>
  signIn(db, email, word, address).then(
    () => 'in',
    (reason: Failure) => reason.code,
  )

test('a wrong password and an unknown account are refused in the same words', async () => {
  const words = (email: string) => signIn(db, email, 'wrong', '192.0.2.8').catch((reason: Error) => reason.message)
  expect(await words('nobody@example.org')).toBe(await words(editor.email))
})

test('sixty guesses at once at one account are a few; whoever owns it comes in from elsewhere, and from there after a pause', async () => {
  const guesses = await Promise.all(Array.from({ length: 60 }, (_, guess) => tries(editor.email, `guess ${guess}`, '192.0.2.9')))
  const checked = guesses.filter((answer) => answer === 'signIn').length
  expect([checked <= 6, guesses.filter((answer) => answer === 'busy').length]).toEqual([true, 60 - checked])
  expect(await tries(editor.email, password, '192.0.2.10')).toBe('in')
  await db('sign_in_failures').update({ at: new Date(Date.now() - 61_000) })
  expect(await tries(editor.email, password, '192.0.2.9')).toBe('in')
})

test('a wait grows with what was wrong before it, and is never longer than a minute', () => {
  expect([0, 4, 5, 6, 8, 50, 5000].map((failures) => waitAfter(failures, 5))).toEqual([0, 0, 1, 2, 8, 60, 60])
})

test.each([
  ['its spaces', ' '.repeat(12)],
  ['a common one', 'password1234'],
  ['one that repeats', 'aaaaaaaaaaaaaa'],
  ['the own e-mail', 'emil@example.org'],
  ['the one there is', password],
])('for %s no password is taken, and the session stays', async (_, next) => {
  const { token } = await signIn(db, editor.email, password, '192.0.2.1')
  await expect(choosePassword(db, editor.id, next)).rejects.toThrow(Failure)
  expect((await readSession(db, token, false))?.account).toEqual(editor)
})

test('a one-time password cannot be kept', async () => {
  await createAccount(db, {
    id: 'second',
    email: 'second@example.org',
    name: 'Second',
    role: 'editor',
    password: 'qmfk-7dzt-kk2p-xnrw',
    oneTime: true,
  })
  await expect(choosePassword(db, 'second', 'qmfk-7dzt-kk2p-xnrw')).rejects.toThrow('the password you have now')
})
