import type { Database } from '../database/connect'
import { act, administrator, attempt, donePage, editor, freshDatabase, publisher, testPage } from '../test-database'
import { readSurroundings } from './documents'
import { newestReleaseNumber, readRelease } from './releases'

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

const served = async () => (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release
const titles = async () => (await served())?.documents.map(({ nodes, root }) => nodes[root]?.props.title).sort()
const spoilt = { id: donePage.id, kind: 'page', root: 'nobody', nodes: {} }

test('a published page that cannot be read any more stays on the site as it could be last, and is named, release after release', async () => {
  await db('revisions')
    .where({ document_id: donePage.id })
    .update({ body: JSON.stringify(spoilt) })
  for (const bounceSeconds of [6, 7]) {
    await act(db, administrator, 'setting.save', { bounceSeconds })
    expect(await titles()).toEqual(['Done', 'Front'])
    expect((await served())?.unread).toEqual([
      { id: donePage.id, words: expect.stringContaining('its published revision cannot be read') },
    ])
  }
  // Published anew it is read again, and nothing is named.
  const { lock } = await act(db, editor, 'document.edit', {
    ...{ document: donePage.id, base: 0 },
    edits: [{ kind: 'set', node: donePage.root, prop: 'title', value: 'Done again' }],
  })
  expect(await attempt(db, publisher, 'document.publish', { document: donePage.id, lock })).toMatchObject({ status: 200 })
  expect(await titles()).toEqual(['Done again', 'Front'])
  expect((await served())?.unread).toEqual([])
})

test('a draft that cannot be read any more stands around others as it was published', async () => {
  const { id } = await act(db, editor, 'document.create', { kind: 'menu', title: 'Main menu', path: null, from: null })
  await act(db, publisher, 'document.publish', { document: id, lock: 0 })
  await db('documents')
    .where({ id })
    .update({ draft: JSON.stringify({ ...spoilt, id, kind: 'menu' }) })
  expect((await readSurroundings(db)).map((one) => one.id)).toContain(id)
  expect(await attempt(db, editor, 'document.open', { document: testPage.id })).toMatchObject({ status: 200 })
  expect(await attempt(db, editor, 'document.open', { document: id })).toMatchObject({
    status: 422,
    body: { fault: expect.stringContaining('“Main menu” was kept in a form that cannot be opened') },
  })
})
