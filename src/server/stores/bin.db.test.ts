import type { DocumentId } from '@/core/ids'
import type { Database } from '../database/connect'
import { act, attempt, donePage, editor, freshDatabase, publisher, readyTest, testPage } from '../test-database'
import { emptyBin } from './bin'
import { newestReleaseNumber, readRelease } from './releases'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

const served = async () => (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release
const pages = async () => (await act(db, editor, 'site.read', {})).lines.map(({ title }) => title)
const bin = async () => (await act(db, editor, 'bin.list', {})).lines
const made = async (title: string, path: string) => {
  const { id } = await act(db, editor, 'document.create', { kind: 'page', title, path, from: null })
  await act(db, publisher, 'document.publish', { document: id, lock: 0 })
  return id
}
const inDays = (days: number) => new Date(Date.now() + days * 86_400_000)

test('off the site, its address leads on where somebody said so; it stays as a draft', async () => {
  const old = await made('Old news', '/old-news')
  expect((await attempt(db, editor, 'bin.takeOff', { document: old, to: null })).status).toBe(403)
  expect((await attempt(db, publisher, 'bin.takeOff', { document: old, to: old })).status).toBe(400)
  await act(db, publisher, 'bin.takeOff', { document: old, to: donePage.id })
  const release = await served()
  expect(release?.documents.some(({ id }) => id === old)).toBe(false)
  expect(release?.redirects).toEqual([{ from: '/old-news', document: donePage.id }])
  expect((await act(db, editor, 'document.open', { document: old })).state).toBe('draft')
  expect((await attempt(db, publisher, 'bin.takeOff', { document: old, to: null })).status).toBe(409)
  // Published again, the address is its own again.
  await act(db, publisher, 'document.publish', {
    document: old,
    lock: (await act(db, editor, 'document.open', { document: old })).lock,
  })
  expect((await served())?.redirects).toEqual([])
})

test('in the bin it is in no list, cannot be changed, and leaves its address to others; it comes back as a draft', async () => {
  const page = await made('Autumn', '/autumn')
  expect((await attempt(db, editor, 'bin.put', { document: page, to: null })).status).toBe(403)
  await act(db, publisher, 'bin.put', { document: page, to: null })
  expect(await pages()).not.toContain('Autumn')
  expect((await served())?.documents.some(({ id }) => id === page)).toBe(false)
  expect((await attempt(db, editor, 'document.open', { document: page })).status).toBe(404)
  expect((await attempt(db, publisher, 'document.publish', { document: page, lock: 0 })).status).toBe(404)
  expect(await bin()).toMatchObject([{ id: page, kind: 'page', title: 'Autumn', by: 'Paula', until: expect.any(String) }])

  await made('Another autumn', '/autumn')
  expect(await act(db, editor, 'bin.take', { document: page })).toEqual({ sameAddress: false })
  expect(await pages()).toEqual(expect.arrayContaining(['Autumn', 'Another autumn']))
  expect([await bin(), (await attempt(db, editor, 'bin.take', { document: page })).status]).toEqual([[], 409])
})

test('never what a test draws by, counts on, or a result needs; never the front page', async () => {
  const { test: id, lock, variant } = await readyTest(db, 'Other')
  await act(db, publisher, 'test.start', { test: id, lock })
  for (const document of [testPage.id, donePage.id])
    expect((await attempt(db, publisher, 'bin.put', { document, to: null })).status).toBe(422)
  await act(db, publisher, 'test.decide', { test: id, version: variant, reason: 'Done' })
  expect(await attempt(db, publisher, 'bin.put', { document: testPage.id, to: null })).toMatchObject({
    status: 422,
    body: { fault: expect.stringContaining('front page') },
  })
  const other = await made('New front', '/new-front')
  await db('documents').where({ id: testPage.id }).update({ published_path: '/before' })
  await act(db, publisher, 'bin.put', { document: testPage.id, to: other })
  expect(await bin()).toMatchObject([{ id: testPage.id, until: null }])
  expect(await emptyBin(db, inDays(400))).toBe(0)
  expect((await act(db, editor, 'test.open', { test: id })).decision?.kind).toBe('take')
})

test('what no result needs goes for good after thirty days, and not before', async () => {
  const page = await made('Passing', '/passing')
  await act(db, editor, 'version.create', {
    document: page,
    node: (await act(db, editor, 'document.open', { document: page })).document.root,
    manner: 'chance',
    from: null,
  })
  await act(db, publisher, 'bin.put', { document: page, to: null })
  expect(await emptyBin(db, inDays(29))).toBe(0)
  expect(await emptyBin(db, inDays(31))).toBe(1)
  expect(await db('documents').where({ id: page as DocumentId })).toEqual([])
})

test('a campaign that something carries stays; another goes to the bin, and back', async () => {
  for (const name of ['Spring', 'Empty']) await act(db, editor, 'campaign.create', { name })
  await db('documents').where({ id: donePage.id }).update({ campaign: 'Spring' })
  expect((await attempt(db, editor, 'campaign.remove', { name: 'Spring' })).status).toBe(422)
  const names = async () => (await act(db, editor, 'campaign.list', {})).campaigns.map(({ name }) => name)
  await act(db, editor, 'campaign.remove', { name: 'Empty' })
  expect(await names()).toEqual(['Spring'])
  expect(await bin()).toContainEqual(expect.objectContaining({ kind: 'campaign', title: 'Empty', by: editor.name }))
  expect((await attempt(db, editor, 'campaign.remove', { name: 'Empty' })).status).toBe(404)
  await act(db, editor, 'bin.takeCampaign', { name: 'Empty' })
  expect(await names()).toEqual(['Empty', 'Spring'])
  expect((await attempt(db, editor, 'bin.takeCampaign', { name: 'Empty' })).status).toBe(409)
  await act(db, editor, 'campaign.remove', { name: 'Empty' })
  // Whoever makes one of the same name has that one.
  await act(db, editor, 'campaign.create', { name: 'Empty' })
  expect(await emptyBin(db, inDays(400))).toBe(0)
  expect(await names()).toEqual(['Empty', 'Spring'])
})

test('a goal goes to the bin when nothing counts by it, comes back as it was, and is gone after thirty days', async () => {
  const create = (name: string, wiring: object) => act(db, editor, 'goal.create', { name, wiring } as never)
  const pressed = await create('Pressed it', { kind: 'marker', marker: 'reserve' })
  const stayed = await create('Stayed', { kind: 'stay', seconds: 30 })
  const either = await create('Either', { kind: 'anyOf', goals: [pressed.id, stayed.id] })
  const ids = async (archived = false) =>
    (await act(db, editor, 'goal.list', { page: 1, archived })).lines.map(({ goal }) => goal.id)
  expect(await attempt(db, editor, 'goal.remove', { goal: pressed.id })).toMatchObject({
    status: 422,
    body: { fault: expect.stringContaining('“Either” is made of it') },
  })
  await act(db, editor, 'goal.remove', { goal: either.id })
  const { lock } = await act(db, editor, 'goal.open', { goal: pressed.id })
  await act(db, publisher, 'goal.publish', { goal: pressed.id, lock })
  expect((await attempt(db, editor, 'goal.remove', { goal: pressed.id })).status).toBe(422)
  await act(db, publisher, 'goal.archive', { goal: pressed.id, archived: true })
  await act(db, editor, 'goal.remove', { goal: pressed.id })
  expect(await ids(true)).not.toContain(pressed.id)
  expect((await attempt(db, editor, 'goal.open', { goal: pressed.id })).status).toBe(404)
  await act(db, editor, 'bin.takeGoal', { goal: pressed.id })
  expect(await ids(true)).toContain(pressed.id)
  expect(await ids()).not.toContain(either.id)
  expect(await emptyBin(db, inDays(29))).toBe(0)
  expect(await emptyBin(db, inDays(31))).toBe(1)
  expect((await attempt(db, editor, 'bin.takeGoal', { goal: either.id })).status).toBe(409)
})

test('a goal that a test has among its goals stays, whatever the test’s state', async () => {
  const { test: id } = await readyTest(db, 'Counts it')
  const { design } = await act(db, editor, 'test.open', { test: id })
  const goal = design.primary
  if (goal === null) throw new Error('the test has no goal')
  await db('goals').where({ id: goal }).update({ archived: 1 })
  expect(await attempt(db, editor, 'goal.remove', { goal })).toMatchObject({
    status: 422,
    body: { fault: expect.stringContaining('stays archived') },
  })
})
