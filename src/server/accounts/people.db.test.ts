import type { AccountView } from '@/contract/contract'
import type { AccountId, NodeId } from '@/core/ids'
import { inTransaction, type Database } from '../database/connect'
import { keepEntries } from '../stores/form-entries'
import { act, administrator, attempt, editor, freshDatabase, publisher, testPage } from '../test-database'
import { choosePassword } from './accounts'
import { changeByCommand } from './by-command'
import { forgotten } from './forgotten'
import { spendLink } from './links'
import { readSession, signIn } from './sessions'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

const tokenIn = (link: string) => link.split('/').at(-1) ?? ''
const enter = (link: string, password: string) =>
  inTransaction(db, async (trx) => choosePassword(trx, (await spendLink(trx, tokenIn(link))).account, password))
const asked = async (email: string, address: string) => (await forgotten(db, email, address)).sending
const person = (id: string) => ({ person: id as AccountId })

test('somebody is invited, comes in by the link once, and is who they were invited as', async () => {
  const { link, sent } = await act(db, administrator, 'person.invite', {
    email: 'Nina@Example.org',
    name: 'Nina',
    role: 'publisher',
  })
  expect(sent).toBe(false)
  await expect(signIn(db, 'nina@example.org', '', '192.0.2.1')).rejects.toThrow('not right')
  await expect(enter(link, 'short')).rejects.toThrow('12 characters')
  const token = await enter(link, 'kettle orchid plaster moon')
  expect((await readSession(db, token, false))?.account).toMatchObject({
    name: 'Nina',
    role: 'publisher',
    email: 'nina@example.org',
  })
  await expect(enter(link, 'another kettle of orchids')).rejects.toThrow('has been used')
  expect(
    (await attempt(db, administrator, 'person.invite', { email: 'nina@example.org', name: 'N', role: 'editor' })).status,
  ).toBe(400)
})

test('of two who use one link at once, one comes in; an old link and one of a closed account open nothing', async () => {
  const { link } = await act(db, administrator, 'person.invite', { email: 'two@example.org', name: 'Two', role: 'editor' })
  const both = await Promise.allSettled([enter(link, 'kettle orchid plaster moon'), enter(link, 'kettle orchid plaster noon')])
  expect(both.filter(({ status }) => status === 'fulfilled')).toHaveLength(1)
  const reset = await act(db, administrator, 'person.reset', person('emil'))
  await db('account_links').update({ expires_at: new Date(Date.now() - 1) })
  await expect(enter(reset.link, 'kettle orchid plaster moon')).rejects.toThrow('too old')
  const again = await act(db, administrator, 'person.reset', person('emil'))
  await act(db, administrator, 'person.disable', { ...person('emil'), disabled: true })
  await act(db, administrator, 'person.disable', { ...person('emil'), disabled: false })
  await expect(enter(again.link, 'kettle orchid plaster moon')).rejects.toThrow('has been used')
})

test('a closed account is signed out and cannot sign in; a role holds from the next request on', async () => {
  const { token } = await signIn(db, editor.email, 'a-long-password', '192.0.2.1')
  await act(db, administrator, 'person.setRole', { ...person('emil'), role: 'publisher' })
  expect((await readSession(db, token, false))?.account.role).toBe('publisher')
  await act(db, administrator, 'person.disable', { ...person('emil'), disabled: true })
  expect(await readSession(db, token, false)).toBeNull()
  await expect(signIn(db, editor.email, 'a-long-password', '192.0.2.1')).rejects.toThrow('not right')
  await act(db, administrator, 'person.disable', { ...person('emil'), disabled: false })
  await act(db, administrator, 'person.setRole', { ...person('emil'), role: 'editor' })
})

test('the last administrator stays one, also when two are taken away at once', async () => {
  const demote = (id: string) => attempt(db, administrator, 'person.setRole', { ...person(id), role: 'editor' })
  expect((await demote('ada')).status).toBe(422)
  expect((await attempt(db, administrator, 'person.disable', { ...person('ada'), disabled: true })).status).toBe(422)
  await act(db, administrator, 'person.setRole', { ...person('paula'), role: 'administrator' })
  const statuses = (await Promise.all([demote('ada'), demote('paula')])).map(({ status }) => status)
  expect(statuses.sort()).toEqual([200, 422])
  await db('accounts').where({ id: 'ada' }).update({ role: 'administrator' })
  await db('accounts').where({ id: 'paula' }).update({ role: 'publisher' })
})

test('only administrators look after people, and that somebody else tried is written down', async () => {
  for (const who of [editor, publisher])
    expect((await attempt(db, who, 'person.setRole', { ...person('emil'), role: 'administrator' })).status).toBe(403)
  const { lines } = await act(db, administrator, 'trail.list', { search: 'role' })
  expect(lines.slice(0, 2)).toMatchObject([
    { refused: true, person: 'Paula' },
    { refused: true, person: 'Emil' },
  ])
})

test('who forgot their password is sent a link where mail is set; nothing is said of whether there is such an account', async () => {
  await expect(forgotten(db, editor.email, '192.0.2.1')).rejects.toThrow('sends no mail')
  await act(db, administrator, 'setting.save', { mail: 'standIn' })
  await asked('nobody@example.org', '192.0.2.2')
  await asked(editor.email, '192.0.2.2')
  const { mails } = await act(db, administrator, 'mail.list', {})
  expect(mails).toMatchObject([{ to: editor.email, subject: 'A new password' }])
  await enter(/http\S+/.exec(mails[0]?.body ?? '')?.[0] ?? '', 'kettle orchid plaster moon')
  const asks = await Promise.allSettled(Array.from({ length: 12 }, () => asked(editor.email, '192.0.2.3')))
  expect(asks.some(({ status }) => status === 'rejected')).toBe(true)
})

test('one’s own name changes freely, one’s e-mail with the password', async () => {
  await act(db, publisher, 'self.save', { name: 'Paula B.', email: publisher.email })
  expect((await attempt(db, publisher, 'self.save', { name: 'Paula', email: 'p@example.org' })).status).toBe(400)
  expect(
    (await attempt(db, publisher, 'self.save', { name: 'Paula', email: 'ada@example.org', password: 'a-long-password' })).status,
  ).toBe(400)
  await act(db, publisher, 'self.save', { name: 'Paula', email: 'p@example.org', password: 'a-long-password' })
})

test('an editor sees that a form was sent, and nothing that the visitor wrote', async () => {
  const values = { name: 'Nelly Reed', email: 'nelly@example.org' }
  await keepEntries(db, [
    { id: 'a'.repeat(32), at: new Date(), document: testPage.id, node: 'front-form' as NodeId, values, visitor: null },
  ])
  const read = async (who: AccountView) => act(db, who, 'standIn.read', {})
  expect((await read(publisher)).entries[0]?.values).toEqual(values)
  const seen = await read(editor)
  expect([seen.entriesHidden, seen.entries[0]?.values]).toEqual([true, { name: '', email: '' }])
  expect(JSON.stringify(seen)).not.toContain('elly')
})

test('the command line adds, resets and closes accounts, and it is written down', async () => {
  const wish = (what: 'add' | 'reset' | 'disable', email: string, role: 'editor' | 'administrator' = 'editor') =>
    inTransaction(db, (trx) => changeByCommand(trx, { what, email, role, studio: 'http://studio' }))
  const said = await wish('add', 'cli@example.org', 'administrator')
  await enter(/http\S+/.exec(said)?.[0] ?? '', 'kettle orchid plaster moon')
  expect(await wish('disable', 'cli@example.org')).toContain('cannot sign in')
  await expect(wish('disable', 'ada@example.org')).rejects.toThrow('last administrator')
  expect(await wish('reset', 'cli@example.org')).toContain('http://studio/welcome/')
  await expect(wish('reset', 'nobody@example.org')).rejects.toThrow('Nobody')
  const { lines } = await act(db, administrator, 'trail.list', { search: 'command line' })
  expect(lines.map(({ detail }) => detail)).toEqual([
    'reset cli@example.org',
    'disable cli@example.org',
    'add cli@example.org as administrator',
  ])
})

test('whoever found an open session guesses its password no faster than at the door, and each guess is written down', async () => {
  const guess = (password: string) =>
    attempt(db, publisher, 'self.save', { name: publisher.name, email: 'other@example.org', password })
  await db('sign_in_failures').delete()
  const before = (await db('audit_trail').where({ action: 'account.prove', outcome: 'refused' })).length
  const statuses: number[] = []
  for (let tries = 0; tries < 8; tries++) statuses.push((await guess(`wrong-${tries}`)).status)
  expect(statuses).toEqual([400, 400, 400, 400, 400, 429, 429, 429])
  // Nor with the right one, as long as it comes too soon.
  expect(await guess('a-long-password')).toMatchObject({ status: 429, retryAfter: expect.any(Number) })
  const refused = await db('audit_trail').where({ action: 'account.prove', outcome: 'refused' })
  expect(refused).toHaveLength(before + 5)
  await db('sign_in_failures').delete()
  expect((await guess('a-long-password')).status).toBe(200)
})
