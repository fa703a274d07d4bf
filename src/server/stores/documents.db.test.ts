import type { Edit } from '@/core/document'
import { nodeAt } from '@/core/document'
import type { NodeId } from '@/core/ids'
import type { Database } from '../database/connect'
import { act, attempt, editor, freshDatabase, publisher, readyTest, testPage } from '../test-database'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

const set = (node: string, prop: string, value: string): Edit => ({ kind: 'set', node: node as NodeId, prop, value })
const open = () => act(db, editor, 'document.open', { document: testPage.id })
const edit = (base: number, ...edits: Edit[]) => attempt(db, editor, 'document.edit', { document: testPage.id, base, edits })

describe('two editors on one draft', () => {
  test('changes to different parts are merged, nothing is lost', async () => {
    const { lock } = await open()
    expect((await edit(lock, set('front-title', 'words', 'Hers'))).status).toBe(200)
    expect(await edit(lock, set('front-button', 'words', 'His'))).toMatchObject({ status: 200, body: { merged: true } })
    const { document } = await open()
    expect([
      nodeAt(document, 'front-title' as NodeId).props.words,
      nodeAt(document, 'front-button' as NodeId).props.words,
    ]).toEqual(['Hers', 'His'])
  })

  test('the later change to the same words is refused by name, and the earlier one stays', async () => {
    const { lock } = await open()
    await edit(lock, set('front-title', 'words', 'First'))
    expect(await edit(lock, set('front-title', 'words', 'Second'))).toMatchObject({
      status: 409,
      body: { fault: expect.stringContaining('Emil changed the same part') },
    })
    expect(nodeAt((await open()).document, 'front-title' as NodeId).props.words).toBe('First')
  })

  test('two saves at the same moment both arrive', async () => {
    const { lock } = await open()
    const answers = await Promise.all([
      edit(lock, set('front-title', 'size', 'small')),
      edit(lock, set('front-text', 'size', 'lead')),
    ])
    expect(answers.map(({ status }) => status)).toEqual([200, 200])
    expect((await open()).lock).toBe(lock + 2)
  })
})

test('the same save sent twice is one, whatever came between; so are the same version, test and goal', async () => {
  const { lock } = await open()
  const once = { document: testPage.id, base: lock, edits: [set('front-title', 'words', 'Once')], save: 'save-one' }
  expect((await attempt(db, editor, 'document.edit', once)).status).toBe(200)
  expect(await attempt(db, editor, 'document.edit', once)).toMatchObject({ status: 200, body: { lock: lock + 1 } })
  await edit(lock + 1, set('front-title', 'words', 'Later'))
  expect(await attempt(db, editor, 'document.edit', once)).toMatchObject({ status: 200, body: { lock: lock + 2, merged: true } })
  expect(nodeAt((await open()).document, 'front-title' as NodeId).props.words).toBe('Later')

  const { test: id, design, lock: at, variant } = await readyTest(db, 'Other')
  const twice = async (send: () => ReturnType<typeof attempt>) => [(await send()).status, (await send()).status]
  const named = { test: id, lock: at, design: { ...design, problem: 'Nobody reads it' } }
  expect(await twice(() => attempt(db, editor, 'test.save', named))).toEqual([200, 200])
  const version = { id: variant, lock: 1, name: 'Longer' }
  expect(await twice(() => attempt(db, editor, 'version.save', version))).toEqual([200, 200])
  const goal = await act(db, editor, 'goal.open', { goal: design.primary ?? ('' as never) })
  expect(await twice(() => attempt(db, editor, 'goal.save', { ...goal.goal, worth: 7, lock: goal.lock }))).toEqual([200, 200])
  // Somebody else’s is still somebody else’s.
  expect((await attempt(db, editor, 'test.save', { ...named, design: { ...design, problem: 'Other' } })).status).toBe(409)
})

test('what cannot be kept is refused with the reason, and what is kept is clean', async () => {
  const { lock } = await open()
  expect(await edit(lock, set('front-button', 'link', 'javascript:steal()'))).toMatchObject({
    status: 400,
    body: { fault: expect.stringContaining('leads to of a button') },
  })
  expect(
    await edit(lock, { kind: 'move', node: 'front-title' as NodeId, parent: 'front-main' as NodeId, after: null }),
  ).toMatchObject({ status: 400, body: { fault: expect.stringContaining('cannot hold a heading') } })
  expect(await edit(lock, set('front-root', 'path', '/done'))).toMatchObject({
    status: 400,
    body: { fault: expect.stringContaining('Another page already has the address /done') },
  })
  expect((await edit(lock, set('front-root', 'path', '/"onclick="steal()'))).status).toBe(400)
  await edit(lock, set('front-text', 'words', '<p onclick="steal()">Hi<script>steal()</script></p>'))
  expect(nodeAt((await open()).document, 'front-text' as NodeId).props.words).toBe('<p>Hi</p>')
})

test('publishing what has changed since it was looked at is refused; a revision comes back whole', async () => {
  const { lock } = await open()
  expect((await attempt(db, publisher, 'document.publish', { document: testPage.id, lock: lock - 1 })).status).toBe(409)
  const { revision } = await act(db, publisher, 'document.publish', { document: testPage.id, lock, note: 'second' })
  expect(revision).toBe(2)
  await act(db, editor, 'document.restore', { document: testPage.id, revision: 1, lock })
  const { document, state } = await open()
  expect({ document, state }).toEqual({ document: testPage, state: 'changed' })
})

test('every action asks who it is, and those that go live ask for a publisher', async () => {
  expect((await attempt(db, null, 'document.open', { document: testPage.id })).status).toBe(401)
  expect((await attempt(db, editor, 'document.publish', { document: testPage.id, lock: 0 })).status).toBe(403)
  expect((await attempt(db, editor, 'document.open', { document: 'not an id' })).status).toBe(400)
})
