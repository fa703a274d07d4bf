import type { TestId, VersionId } from '@/core/ids'
import type { Edit } from '@/core/document'
import type { Database } from '../database/connect'
import { newestReleaseNumber, readRelease } from '../stores/releases'
import { act, attempt, editor, freshDatabase, publisher, readyTest, testPage } from '../test-database'

let db: Database
let test1: TestId
let variant: VersionId
const title = 'front-title' as never
const set = (prop: string, value: string | number): Edit => ({ kind: 'set', node: title, prop, value })

beforeAll(async () => {
  db = await freshDatabase()
  const made = await readyTest(db, 'Other')
  ;[test1, variant] = [made.test, made.variant]
  const { design, lock } = await act(db, editor, 'test.open', { test: test1 })
  await act(db, editor, 'version.save', { id: variant, lock: 1, edits: [set('words', 'Other'), set('align', 'centre')] })
  await act(db, publisher, 'test.start', { test: test1, lock })
  await act(db, publisher, 'test.end', { test: test1 })
  expect(design.arms).toHaveLength(2)
})
afterAll(() => db.destroy())

const preview = () => act(db, publisher, 'test.preview', { test: test1, version: variant })
const shown = async () => {
  const found = await readRelease(db, (await newestReleaseNumber(db)) ?? 0)
  return found?.release.documents.find(({ id }) => id === testPage.id)?.nodes['front-title']?.props
}

test('edit by edit it is told what taking a variant over does, and where somebody was there since', async () => {
  expect((await preview()).edits.map(({ fit }) => fit)).toEqual(['fits', 'fits'])
  const { lock: base } = await act(db, editor, 'document.open', { document: testPage.id })
  const { lock } = await act(db, editor, 'document.edit', { document: testPage.id, base, edits: [set('words', 'Hello again')] })
  await act(db, publisher, 'document.publish', { document: testPage.id, lock })
  const { edits, documents } = await preview()
  expect(edits.map(({ fit }) => fit)).toEqual(['clashes', 'fits'])
  expect(edits[0]?.since).toEqual([expect.stringContaining('Hello again')])
  expect(documents).toMatchObject([{ id: testPage.id, places: 1 }])
})

test('what is not to be overwritten stays, the rest is taken over, and all of it is taken back together', async () => {
  const without = [{ document: testPage.id, index: 0 }]
  const asked = { test: test1, version: variant, reason: 'We like where it stands' }
  expect((await attempt(db, editor, 'test.decide', { ...asked, without })).status).toBe(403)
  await act(db, publisher, 'test.decide', { ...asked, without })
  expect(await shown()).toMatchObject({ words: 'Hello again', align: 'centre' })
  await act(db, publisher, 'test.undo', { test: test1 })
  expect(await shown()).toMatchObject({ words: 'Hello again' })
  expect((await shown())?.align).not.toBe('centre')
})

test('a variant of which nothing is left to take is not taken', async () => {
  const without = [0, 1].map((index) => ({ document: testPage.id, index }))
  const asked = { test: test1, version: variant, reason: 'Nothing', without }
  expect((await attempt(db, publisher, 'test.decide', asked)).status).toBeGreaterThanOrEqual(400)
})

test('notes and tags are kept in the order in which they came, each once, and are found in the notebook', async () => {
  await act(db, editor, 'test.note', { test: test1, words: 'A newsletter went out' })
  await act(db, editor, 'test.note', { test: test1, words: 'A newsletter went out' })
  await act(db, publisher, 'test.note', { test: test1, words: 'constructor' })
  await act(db, editor, 'test.tag', { test: test1, tags: ['titles', 'titles', '__proto__'] })
  expect(await act(db, editor, 'test.open', { test: test1 })).toMatchObject({
    notes: [{ words: 'A newsletter went out' }, { words: 'constructor' }],
    tags: ['titles', '__proto__'],
  })
  await act(db, publisher, 'test.decide', { test: test1, version: variant, reason: 'We like it' })
  const found = async (asked: object) => (await act(db, editor, 'notebook.list', asked as never)).lines.length
  expect([await found({ search: 'newsletter went' }), await found({ search: 'nobody wrote this' })]).toEqual([1, 0])
  expect([await found({ tag: 'titles' }), await found({ tag: 'title' }), await found({ tag: '__proto__' })]).toEqual([1, 0, 1])
  expect((await act(db, editor, 'tag.list', {})).tags).toEqual(['__proto__', 'titles'])
  const [line] = (await act(db, editor, 'notebook.list', {})).lines
  expect(line).toMatchObject({ tested: 'heading', changed: [{ words: [expect.stringContaining('Other'), expect.any(String)] }] })
  expect((await act(db, editor, 'notebook.kinds', {})).kinds).toMatchObject([
    { kind: 'heading', tests: 1, paid: 0, average: null },
  ])
  expect((await attempt(db, editor, 'test.note', { test: test1, words: '   ' })).status).toBe(400)
  expect((await attempt(db, editor, 'test.tag', { test: test1, tags: ['x'.repeat(31)] })).status).toBe(400)
})
