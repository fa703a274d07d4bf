import { nodeIdSchema } from '@/core/ids'
import type { Database } from '@/server/database/connect'
import { inTransaction } from '@/server/database/connect'
import { act, asAlways, testPage, editor, freshDatabase, publisher } from '@/server/test-database'
import { keepEntries } from '@/server/stores/form-entries'
import { forgetCounts } from '@/server/ledger/count'
import { deliverEntries } from './deliver'
import { tallyAll } from './work'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

const visitor = 'c'.repeat(32)
const form = nodeIdSchema.parse('the-form')
const entry = { id: 'a'.repeat(32), at: new Date(), document: testPage.id, node: form, values: { name: 'Sefa' }, visitor }

async function formGoals() {
  const { lock } = await act(db, editor, 'document.open', { document: testPage.id })
  const tree = { root: form, nodes: { [form]: { type: 'form', props: { title: 'Reserve', order: '24' }, children: [] } } }
  await act(db, editor, 'document.edit', {
    document: testPage.id,
    base: lock,
    edits: [{ kind: 'insert', parent: nodeIdSchema.parse('front-section'), after: null, tree }],
  })
  await act(db, publisher, 'document.publish', { document: testPage.id, lock: lock + 1 })
  const sent = await act(db, editor, 'goal.create', { name: 'Sent', wiring: { kind: 'form', document: testPage.id, node: form } })
  const ordered = await act(db, editor, 'goal.create', {
    name: 'Ordered',
    wiring: { kind: 'order' },
    worthFrom: 'reported',
    worthIn: 'money',
    counts: 'everyTime',
  })
  for (const { id } of [sent, ordered]) await act(db, publisher, 'goal.publish', { goal: id, lock: 0 })
  await asAlways(db)
  const figures = async () => {
    await tallyAll(db)
    const { lines } = await act(db, editor, 'goal.list', {})
    return [sent, ordered].map(({ id }) => lines.find(({ goal }) => goal.id === id)).map((line) => [line?.times, line?.worth])
  }
  return figures
}

test('a form counts when the service behind it accepts; until then it is kept; what is paid back is taken back', async () => {
  const figures = await formGoals()
  await act(db, publisher, 'standIn.setList', { mood: 'down' })
  await keepEntries(db, [entry, entry])
  expect(await deliverEntries(db)).toBe(0)
  expect((await act(db, editor, 'standIn.read', {})).entries).toMatchObject([{ status: 'waiting', tries: 1 }])
  expect(await figures()).toEqual([
    [0, 0],
    [0, 0],
  ])

  await act(db, publisher, 'standIn.setList', { mood: 'accepts' })
  expect([await deliverEntries(db), await deliverEntries(db)]).toEqual([1, 0])
  expect(await figures()).toEqual([
    [1, 1],
    [1, 24],
  ])

  const [order] = (await act(db, editor, 'standIn.read', {})).orders
  if (order === undefined) throw new Error('no order')
  await act(db, publisher, 'standIn.refundOrder', { order: order.number, amount: 10 })
  const before = await figures()
  expect(before[1]).toEqual([1, 14])
  await expect(act(db, publisher, 'standIn.refundOrder', { order: order.number, amount: 15 })).rejects.toThrow('14.00 is left')

  // Counted anew from the events: the same, to the unit.
  await inTransaction(db, forgetCounts)
  expect(await figures()).toEqual(before)
  expect((await act(db, editor, 'standIn.read', {})).orders).toMatchObject([{ value: 24, refunded: 10 }])
})

test('what the service refuses counts nothing', async () => {
  await act(db, publisher, 'standIn.setList', { mood: 'refuses' })
  await keepEntries(db, [{ ...entry, id: 'b'.repeat(32), visitor: 'd'.repeat(32) }])
  expect(await deliverEntries(db)).toBe(1)
  expect((await act(db, editor, 'standIn.read', {})).entries[0]).toMatchObject({ status: 'refused' })
})
