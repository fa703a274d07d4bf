import { randomBytes } from 'node:crypto'
import * as z from 'zod'
import type { Database } from '../database/connect'
import { ASIDE } from '../stores/events'
import { act, administrator, freshDatabase, testPage } from '../test-database'
import { forgetVisitor, knowingVisitors, NOBODY, rowsKnowing } from './known-of-visitors'
import { pruneStrangers, pruneVisitors } from './retention'

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
  const sent = { subject: 'A', body: '{}', calls: '[]', plan: '{}', status: 'sent', created_at: BEGIN, created_by: 'x' }
  await db('letters').insert({ number: 1, document_id: testPage.id, ...sent })
  const look = { look: 0, carried: '', html: '', words: '' }
  await db('letter_looks').insert({ letter: 1, ...look })
})
afterEach(() => db.destroy())

const BEGIN = new Date('2026-03-02T00:00:00Z')
const day = (days: number) => new Date(BEGIN.getTime() + days * 86_400_000)
const place = { document_id: testPage.id, node_id: 'form', entry: '{"name":"Nora"}', status: 'accepted', tries: 0, message: '' }

/** A row of a visitor in everything that knows them, as of the first day. */
const rows: { readonly [Column in keyof typeof knowingVisitors]: (visitor: Buffer) => Promise<unknown> } = {
  'events.visitor': async (visitor) =>
    db('events').insert({ crowd: 0, id: randomBytes(16), visitor, at: BEGIN, kind: 'stay', tallied: ASIDE }),
  'ledger_visitors.visitor': async (visitor) =>
    db('ledger_visitors').insert({ crowd: 0, visitor, state: '{}', last_at: BEGIN, last_seq: 1 }),
  'firsts.visitor': async (visitor) => db('firsts').insert({ subject: 'site', visitor, day: BEGIN }),
  'form_entries.visitor': async (visitor) => db('form_entries').insert({ ...place, id: randomBytes(16), visitor, at: BEGIN }),
  'orders.visitor': async (visitor) => {
    await db('orders').insert({ number: visitor.toString('hex').slice(0, 8), visitor, at: BEGIN, value: 1, refunded: 0 })
  },
  'reader_steps.recipient': async (recipient) => db('reader_steps').insert({ letter: 1, recipient, step: 'open', at: BEGIN }),
  'letter_sends.recipient': async (recipient) =>
    db('letter_sends').insert({ letter: 1, recipient, reader: 1, look: 0, sent_at: BEGIN }),
}
async function known(): Promise<Buffer> {
  const visitor = randomBytes(16)
  for (const keep of Object.values(rows)) await keep(visitor)
  return visitor
}
const size = async (table: string) => Number((await db(table).count({ total: '*' }).first())?.total)

/** Digits of sixteen bytes that are no visitor’s. */
const others = ['events.id', 'form_entries.id', 'sessions.family']

test('every column that can hold a visitor’s number is on the list, or is known to hold something else', async () => {
  const found: unknown[] = await db('information_schema.columns')
    .where({ table_schema: 'sprig_test' })
    .whereNot('table_name', 'like', 'begun_%')
    .where((either) => void either.where('column_type', 'binary(16)').orWhere('column_name', 'like', '%visitor%'))
    .select(db.raw("CONCAT(table_name, '.', column_name, ' ', column_type) AS name"))
  const names = found.map((row) => z.object({ name: z.string() }).parse(row).name)
  // How many, and whom somebody made up.
  const counts = names.filter((name) => / (int|longtext)/.test(name))
  const columns = names.filter((name) => !counts.includes(name)).map((name) => name.split(' ')[0] ?? '')
  expect(columns.sort()).toEqual([...Object.keys(knowingVisitors), ...others].sort())
})

test('whoever is forgotten, or does not come any more, is in nothing; whoever came lately is in all of it', async () => {
  for (const forget of [
    (visitor: Buffer) => db.transaction((trx) => forgetVisitor(trx, { crowd: null, visitor })),
    async () => {
      while ((await pruneVisitors(db, 90, day(200))) > 0);
    },
  ]) {
    const visitor = await known()
    const before = [await size('orders'), await size('letter_sends')]
    expect(await rowsKnowing(db, { crowd: 0, visitor })).toHaveLength(Object.keys(rows).length)
    await pruneVisitors(db, 90, day(80))
    expect(await rowsKnowing(db, { crowd: 0, visitor })).toHaveLength(Object.keys(rows).length)
    await forget(visitor)
    expect(await rowsKnowing(db, { crowd: 0, visitor })).toEqual([])
    // An order and a newsletter count on, nobody’s now.
    expect([await size('orders'), await size('letter_sends')]).toEqual(before)
  }
})

test('what was typed into forms by somebody of whom nothing else is known goes after as many days', async () => {
  for (const visitor of [randomBytes(16), null])
    await db('form_entries').insert({ ...place, id: randomBytes(16), visitor, at: BEGIN })
  await rows['orders.visitor'](randomBytes(16))
  await rows['events.visitor'](randomBytes(16))
  expect(await pruneStrangers(db, 90, day(89))).toBe(0)
  expect(await pruneStrangers(db, 90, day(91))).toBe(4)
  expect([await size('form_entries'), await size('events'), await db('orders').pluck('visitor')]).toEqual([0, 0, [NOBODY]])
  expect(await pruneStrangers(db, 90, day(91))).toBe(0)
})

test('the trail says who was erased by six digits, and nowhere by all of them', async () => {
  const visitor = await known()
  const number = visitor.toString('hex')
  await act(db, administrator, 'visitor.erase', { visitor: number })
  const lines = JSON.stringify(await db('audit_trail').select('thing', 'detail'))
  expect(lines).toContain(`${number.slice(0, 6)}…`)
  expect(lines).not.toContain(number.slice(0, 8))
})
