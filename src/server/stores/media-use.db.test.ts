import * as z from 'zod'
import { mediaNamedIn } from '@/core/media-names'
import type { NodeId } from '@/core/ids'
import type { Database } from '../database/connect'
import { act, administrator, attempt, editor, freshDatabase, publisher, testPage } from '../test-database'
import { emptyBin } from './bin'
import { namingMedia } from './media-use'
import { newestReleaseNumber, readRelease } from './releases'

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

const name = (digit: string) => `m-${digit.repeat(32)}`
const about = { title: 'A', alt: '', type: 'image/png', width: 1, height: 1, size: 1, created_at: new Date(), created_by: 'x' }
async function kept(digit: string): Promise<string> {
  await db('media').insert({ name: name(digit), ...about })
  return name(digit)
}
const served = async () => (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release
const thrown = async (file: string) => attempt(db, publisher, 'bin.putMedia', { name: file })

/** Texts of any length in which no file of the library can be named. */
const others = [
  ...['counting_rules.body', 'form_entries.entry', 'gain_entries.body', 'gain_plans.plan', 'goals.body', 'goals.published'],
  ...['kept_mails.body', 'ledger_visitors.state', 'ledger_visitors.base', 'events.about', 'lens_visitors.visitor'],
  ...['letters.calls', 'letters.plan', 'letter_looks.words', 'looks.tests', 'rehearsals.plan', 'rehearsals.found'],
  ...['releases.body', 'rounds.pauses', 'segments.condition', 'site_processes.faults', 'tests.design', 'tests.news'],
  ...['tests.notes', 'tests.tags', 'versions.condition', 'order_tables.plan', 'order_tables.named'],
]

test('every column that can hold a long text is known to name files of the library, or not to', async () => {
  const rows: unknown[] = await db('information_schema.columns')
    .where({ table_schema: 'sprig_test' })
    .whereNot('table_name', 'like', 'begun_%')
    .whereIn('data_type', ['text', 'mediumtext', 'longtext', 'json'])
    .select(db.raw("CONCAT(table_name, '.', column_name) AS name"))
  const columns = rows.map((row) => z.object({ name: z.string() }).parse(row).name)
  expect(columns.sort()).toEqual([...Object.keys(namingMedia), ...others].sort())
})

test('a file that the settings, a newsletter, or only what is published shows cannot be thrown away, and is needed by the release', async () => {
  const [mark, shown] = [await kept('a'), await kept('b')]
  const { identity } = await act(db, administrator, 'setting.read', {})
  await act(db, administrator, 'setting.save', { identity: { ...identity, mark } })
  const node = 'front-title' as NodeId
  const open = await act(db, editor, 'document.open', { document: testPage.id })
  const tree = { root: 'new' as NodeId, nodes: { new: { type: 'picture', props: { picture: shown, alt: 'x' }, children: [] } } }
  const inserted = await act(db, editor, 'document.edit', {
    ...{ document: testPage.id, base: open.lock },
    edits: [{ kind: 'insert', parent: 'front-section' as NodeId, after: node, tree }],
  })
  await act(db, publisher, 'document.publish', { document: testPage.id, lock: inserted.lock })
  await act(db, editor, 'document.edit', {
    ...{ document: testPage.id, base: inserted.lock },
    edits: [{ kind: 'remove', node: 'new' as NodeId }],
  })
  expect(await thrown(mark)).toMatchObject({ status: 422, body: { fault: expect.stringContaining('The settings of the site') } })
  expect(await thrown(shown)).toMatchObject({ status: 422, body: { fault: expect.stringContaining('“Front” shows it') } })
  expect([...mediaNamedIn(await served())].sort()).toEqual([mark, shown])
})

test('a file that may be wanted back stays in the bin after its days; one that nothing names goes', async () => {
  const [wanted, gone] = [await kept('c'), await kept('d')]
  for (const file of [wanted, gone]) expect((await thrown(file)).status).toBe(200)
  await db('media').update({ binned_at: new Date('2020-01-01') })
  await db('draft_steps').insert({
    ...{ document_id: testPage.id, lock_version: 900, author: 'x', at: new Date() },
    edits: JSON.stringify([{ kind: 'set', node: 'front-title', prop: 'picture', value: wanted }]),
  })
  await emptyBin(db, new Date())
  expect(await db('media').pluck('name')).toEqual([wanted])
})
