import { changes } from '@/contract/changes'
import { contract } from '@/contract/contract'
import type { DocumentId, NodeId } from '@/core/ids'
import { inTransaction, type Database } from './database/connect'
import { act, administrator, attempt, editor, freshDatabase, testPage } from './test-database'
import { recorded } from './audit'
import { pruneTrail } from './stores/audit-trail'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

const set = (value: string) => ({ kind: 'set' as const, node: 'front-title' as NodeId, prop: 'words', value })
const trail = (filter: object = {}) => act(db, administrator, 'trail.list', filter)

test('every action that changes something is in the table of what is written down', () => {
  const changing = Object.entries(contract).filter(([, action]) => action.changes)
  expect(Object.keys(changes).sort()).toEqual(changing.map(([name]) => name).sort())
})

test('what was done is written down with who, what and from where; what failed is not', async () => {
  await act(db, editor, 'document.edit', { document: testPage.id, base: 0, edits: [set('One')] })
  await attempt(db, editor, 'document.edit', { document: 'nowhere' as DocumentId, base: 0, edits: [set('One')] })
  const { lines, total } = await trail()
  expect([total, lines]).toMatchObject([
    1,
    [
      {
        person: 'Emil',
        address: '192.0.2.1',
        words: 'edited',
        thingKind: 'document',
        thing: 'front',
        thingName: 'Front',
        refused: false,
      },
    ],
  ])
})

test('every action of the contract can be written down and read again, whatever it was asked with', async () => {
  await act(db, editor, 'goal.create', { name: 'Gelesen “übers” 🎻', wiring: { kind: 'page', document: testPage.id } })
  await act(db, editor, 'document.create', { kind: 'shared', title: 'Ümlaut' })
  expect((await trail({ search: '🎻' })).total).toBe(1)
  expect((await trail()).lines.map(({ thing }) => thing)).toEqual(
    expect.arrayContaining(['“Gelesen “übers” 🎻”', 'shared “Ümlaut”']),
  )
})

test('neither what was done nor that it was is there without the other', async () => {
  const entry = { account: editor, address: 'x', action: 'campaign.create' } as const
  const work = inTransaction(db, async (trx) => {
    await trx('campaigns').insert({ name: 'Half done', created_at: new Date(), created_by: 'Emil' })
    throw new Error('the process dies here')
  })
  await expect(recorded(db, entry, () => work)).rejects.toThrow('dies')
  expect([await db('campaigns').where({ name: 'Half done' }), (await trail({ search: 'campaign' })).total]).toEqual([[], 0])
})

test('what a role does not allow is written down as refused, and a guess at what is not there is not', async () => {
  await attempt(db, editor, 'document.publish', { document: testPage.id, lock: 1 })
  await attempt(db, editor, 'constructor' as never, {} as never)
  expect((await trail({ search: 'publish' })).lines).toMatchObject([{ refused: true, person: 'Emil' }])
})

test('it is found by person, words and day, and saved as a table that no spreadsheet calculates', async () => {
  await act(db, editor, 'campaign.create', { name: '=2+2' })
  const today = new Date().toISOString().slice(0, 10)
  expect((await trail({ person: 'emil', search: '=2', from: today, to: today })).total).toBe(1)
  expect((await trail({ person: 'ada' })).total).toBe(0)
  expect((await trail({ search: 'created a campaign' })).total).toBe(1)
  expect((await trail({ to: '2020-01-01' })).total).toBe(0)
  const { csv } = await act(db, administrator, 'trail.table', { search: '=2' })
  expect(csv.split('\n')[1]).toContain("'=2+2")
})

test('a row cannot be changed or taken out; what is older than it must be kept is pruned', async () => {
  await expect(db('audit_trail').update({ person: 'Somebody' })).rejects.toThrow('only added to')
  await expect(db('audit_trail').delete()).rejects.toThrow('last 30 days')
  const [first] = await db('audit_trail').orderBy('seq').select('seq')
  await db.raw(
    'INSERT INTO audit_trail SELECT NULL, ?, account_id, person, address, action, outcome, thing_kind, thing, detail FROM audit_trail WHERE seq = ?',
    [new Date(Date.now() - 401 * 86_400_000), (first as { seq: number }).seq],
  )
  const before = (await trail()).total
  expect([await pruneTrail(db, 400), (await trail()).total]).toEqual([1, before - 1])
})
