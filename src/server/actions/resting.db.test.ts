import { documentSchema } from '@/core/document'
import type { Database } from '../database/connect'
import { act, editor, freshDatabase, publisher, readyTest } from '../test-database'
import { restingOn } from './resting'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

const call = (title: string) =>
  documentSchema.parse({
    ...{ id: 'call', kind: 'callToAction', root: 'r' },
    nodes: { r: { type: 'callToActionText', props: { title, buttonWords: 'Go', link: 'page:front' }, children: [] } },
  })

test('what rests on a document is found by as many questions, however many tests run', async () => {
  const { test: first } = await readyTest(db, 'Other')
  const { lock } = await act(db, editor, 'test.open', { test: first })
  await act(db, publisher, 'test.start', { test: first, lock })
  const asked = async () => {
    let questions = 0
    const count = () => void questions++
    db.on('query', count)
    await restingOn(db, call('Before'), call('After'))
    db.off('query', count)
    return questions
  }
  const one = await asked()
  for (const number of [51, 52, 53, 54])
    for (const [table, key] of [
      ['tests', { number }],
      ['rounds', { id: `t-${number}-r1`, test_number: number }],
    ] as const) {
      const columns = (await db('information_schema.columns')
        .where({ table_schema: 'sprig_test', table_name: table })
        .whereNotIn('column_name', Object.keys(key))
        .pluck('column_name')) as string[]
      const names = columns.map((name) => `\`${name}\``).join(', ')
      const own = Object.keys(key).map((name) => `\`${name}\``)
      await db.raw(
        `INSERT INTO ${table} (${own.join(', ')}, ${names}) SELECT ${own.map(() => '?').join(', ')}, ${names} FROM ${table} LIMIT 1`,
        Object.values(key),
      )
    }
  expect(await db('tests')).toHaveLength(5)
  expect(await asked()).toBe(one)
})
