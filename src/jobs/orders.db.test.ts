import * as z from 'zod'
import type { CsvMapping } from '@/contract/contract'
import type { Database } from '@/server/database/connect'
import { columnsOf, readOrderTable } from '@/server/formats/order-table'
import { keepTable, pruneTables } from '@/server/stores/order-tables'
import { act, attempt, editor, freshDatabase, publisher } from '@/server/test-database'
import { takeTable } from './orders'

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

const today = new Date().toISOString().slice(0, 10)

/** As it is sent, looked at, and asked to be brought in. */
async function asked(text: string, said: Partial<CsvMapping> = {}): Promise<string> {
  const columns = columnsOf(readOrderTable(text))
  const table = await keepTable(db, Buffer.from(text), { name: 'orders.csv', lines: columns.lines, account: publisher })
  await act(db, publisher, 'order.take', { table, mapping: { ...columns.mapping, ...said } })
  return table
}
const progress = (table: string) => act(db, publisher, 'order.progress', { table })
async function all(): Promise<void> {
  while (await takeTable(db, () => true));
}
const events = async () => z.object({ n: z.coerce.number() }).parse(await db('events').count({ n: '*' }).first()).n

test('a table is brought in once, however often it is sent; its faults are named by line', async () => {
  const text = `Order number;Date;Amount\nT-1;${today};30,50\nT-2;yesterday;3\nT-3;${today};many\n`
  const [one, other] = [await asked(text), await asked(text)]
  expect((await act(db, publisher, 'order.reading', {})).tables).toMatchObject([
    { table: one, lines: 3, done: 0 },
    { table: other },
  ])
  await all()
  expect(await progress(one)).toMatchObject({
    ...{ state: 'done', lines: 3, done: 3 },
    report: { taken: 1, known: 0, refusedInAll: 2, refused: [{ line: 3 }, { line: 4 }] },
  })
  expect(await progress(other)).toMatchObject({ report: { taken: 0, known: 1 } })
  expect((await act(db, publisher, 'order.reading', {})).tables).toEqual([])
  // What was in it is not kept beside what it said.
  expect(await db('order_table_parts')).toEqual([])
})

test('dates that can be read in two ways are asked about, and nothing is taken until they are', async () => {
  const text = 'order;date;amount\n1;03/04/2026;5\n'
  const table = await asked(text)
  await all()
  expect(await progress(table)).toMatchObject({ state: 'refused', fault: expect.stringContaining('the day or the month') })
  expect(await events()).toBe(0)
})

test('many lines come in, and a table that is killed goes on where it was, with the same counts', async () => {
  const line = (at: number) => `O-${at % 3900},${today},${(at % 500) + 0.5}`
  const text = `order,date,amount\n${Array.from({ length: 4000 }, (_, at) => line(at)).join('\n')}\n`
  const table = await asked(text)
  let chunks = 0
  expect(await takeTable(db, () => ++chunks < 3)).toBe(true)
  const half = await progress(table)
  expect(half).toMatchObject({ state: 'reading', done: 2000, report: { taken: 2000 } })
  // Killed within a chunk: neither its events nor how far it is are there.
  const fault = new Error('killed')
  await expect(
    takeTable(db, () => {
      throw fault
    }),
  ).rejects.toThrow('killed')
  expect(await progress(table)).toEqual(half)
  await all()
  expect(await progress(table)).toMatchObject({
    ...{ state: 'done', done: 4000 },
    report: { taken: 3900, known: 0, repeatedInAll: 100, refusedInAll: 0 },
  })
  expect((await progress(table)).report.repeated).toHaveLength(100)
  expect(await events()).toBe(3900)
})

test('two that read the same table at once write it once', async () => {
  const text = `order,date,amount\n${Array.from({ length: 5000 }, (_, at) => `O-${at},${today},5`).join('\n')}\n`
  const table = await asked(text)
  await Promise.all([takeTable(db, () => true), takeTable(db, () => true)])
  await all()
  expect(await progress(table)).toMatchObject({ done: 5000, report: { taken: 5000, known: 0 } })
  expect(await events()).toBe(5000)
})

test('a table is its sender’s alone, is asked for once, and is let go of after a day', async () => {
  const table = await asked(`order,date,amount\nA,${today},5\n`)
  const mapping = columnsOf(readOrderTable('order,amount\nA,5\n')).mapping
  expect((await attempt(db, editor, 'order.progress', { table })).status).toBe(404)
  expect((await attempt(db, editor, 'order.take', { table, mapping })).status).toBe(403)
  await act(db, publisher, 'order.take', { table, mapping })
  await all()
  expect(await progress(table)).toMatchObject({ report: { taken: 1 } })
  expect(await pruneTables(db, new Date(Date.now() + 90_000_000))).toBe(1)
  expect((await attempt(db, publisher, 'order.progress', { table })).status).toBe(404)
})
