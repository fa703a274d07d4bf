import type { Edit } from '@/core/document'
import type { NodeId, TestId } from '@/core/ids'
import type { Database } from '../database/connect'
import { newestReleaseNumber, readRelease } from '../stores/releases'
import { act, attempt, editor, freshDatabase, publisher, readyTest, testPage } from '../test-database'

let db: Database
let test1: TestId
beforeAll(async () => {
  db = await freshDatabase()
  const made = await readyTest(db, 'Other')
  test1 = made.test
})
afterAll(() => db.destroy())

const front = testPage.id
const set = (node: string, prop: string, value: string): Edit => ({ kind: 'set', node: node as NodeId, prop, value })
const remove = (node: string): Edit => ({ kind: 'remove', node: node as NodeId })
const opened = () => act(db, publisher, 'test.open', { test: test1 })
const start = async () => act(db, publisher, 'test.start', { test: test1, lock: (await opened()).lock })
const served = async () => (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release
const servedWords = async (node: string) =>
  (await served())?.documents.find(({ id }) => id === front)?.nodes[node as NodeId]?.props.words
async function edit(...edits: Edit[]) {
  const { lock } = await act(db, editor, 'document.open', { document: front })
  return act(db, editor, 'document.edit', { document: front, base: lock, edits })
}
async function publish(outcome?: 'round' | 'leave' | 'end') {
  const { lock } = await act(db, publisher, 'document.open', { document: front })
  return attempt(db, publisher, 'document.publish', {
    document: front,
    lock,
    tests: outcome === undefined ? [] : [{ test: test1, outcome }],
  })
}
const effects = async () => (await act(db, publisher, 'document.effects', { document: front })).tests

test('a variant whose goal is there and shows nothing does not start', async () => {
  const pressed = await act(db, editor, 'goal.create', {
    name: 'Pressed',
    wiring: { kind: 'click', document: front, node: 'front-button' as NodeId },
  })
  const { design, lock, versions } = await opened()
  await act(db, editor, 'test.save', { test: test1, lock, design: { ...design, primary: pressed.id } })
  const [version] = (await act(db, editor, 'document.open', { document: front })).versions
  if (version === undefined || versions.length === 0) throw new Error('a version was expected')
  const empty = [...version.edits, set('front-button', 'words', '')]
  const { lock: next } = await act(db, editor, 'version.save', { id: version.id, lock: version.lock, edits: empty })
  expect((await opened()).blocks.map(({ code }) => code)).toContain('goalDead')
  const blocked = await attempt(db, publisher, 'test.start', { test: test1, lock: (await opened()).lock })
  expect(blocked).toMatchObject({ status: 422, body: { fault: expect.stringContaining('nothing of it can be pressed') } })
  await act(db, editor, 'version.save', { id: version.id, lock: next, edits: version.edits })
  await start()
})

describe('what is published around a running test', () => {
  test('is told of nothing where it does not touch it', async () => {
    await edit(set('front-text', 'words', '<p>Other words</p>'))
    expect([await effects(), (await publish()).status]).toEqual([[], 200])
    expect((await opened()).rounds).toHaveLength(1)
  })

  test('changes what the original shows: in the next round, or not for now; never without a word', async () => {
    await edit(set('front-title', 'words', 'Good day'), set('front-text', 'words', '<p>New</p>'))
    expect(await effects()).toMatchObject([{ test: test1, ways: ['round', 'leave'] }])
    expect(await publish()).toMatchObject({ status: 422, body: { fault: expect.stringContaining('runs here') } })

    expect((await publish('leave')).status).toBe(200)
    expect([await servedWords('front-title'), await servedWords('front-text')]).toEqual(['Hello', '<p>New</p>'])
    expect((await act(db, editor, 'document.open', { document: front })).state).toBe('changed')
    expect((await opened()).rounds).toHaveLength(1)

    expect((await publish('round')).status).toBe(200)
    expect(await servedWords('front-title')).toBe('Good day')
    expect((await opened()).rounds[0]).toMatchObject({ number: 2, because: 'what the original shows was changed' })
  })

  test('is found through what the tested part shows, and a pause lets everything through into the next round', async () => {
    await act(db, publisher, 'test.pause', { test: test1 })
    await edit(set('front-title', 'words', 'Good evening'))
    expect((await effects())[0]).toMatchObject({ ways: [], words: expect.arrayContaining([expect.stringContaining('paused')]) })
    expect((await publish()).status).toBe(200)
    const { lock } = await opened()
    expect((await act(db, publisher, 'test.goOn', { test: test1, lock })).begins).toBe('round')
  })
})

test('a running round counts by its goals as they were; the next round by what they are', async () => {
  const { goals, rounds } = await opened()
  const goal = goals.find(({ name }) => name === 'Pressed')
  if (goal === undefined) throw new Error('a goal was expected')
  const open = () => act(db, editor, 'goal.open', { goal: goal.id })
  await act(db, editor, 'goal.save', { ...(await open()).goal, worth: 9, lock: (await open()).lock })
  expect((await open()).asBefore).toEqual([{ test: test1, name: expect.any(String) }])
  await act(db, publisher, 'goal.publish', { goal: goal.id, lock: (await open()).lock })
  expect(await opened()).toMatchObject({
    asBefore: [goal.name],
    goals: expect.arrayContaining([expect.objectContaining({ name: 'Pressed', worth: goal.worth })]),
  })
  expect((await attempt(db, editor, 'test.nextRound', { test: test1 })).status).toBe(403)
  await act(db, publisher, 'test.nextRound', { test: test1 })
  const after = await opened()
  expect([after.asBefore, after.rounds.length]).toEqual([[], rounds.length + 1])
  expect(after.goals.find(({ id }) => id === goal.id)?.worth).toBe(9)
  expect((await open()).asBefore).toEqual([])
})

test('guards and the smallest difference are locked while it runs, and open a round after a pause', async () => {
  const { design, lock, goals } = await opened()
  const guarded = {
    ...design,
    smallestEffect: 0.2,
    primary: design.primary,
    guards: [{ goal: goals[0]?.id as never, margin: 0.1 }],
  }
  expect(await attempt(db, editor, 'test.save', { test: test1, lock, design: guarded })).toMatchObject({
    status: 422,
    body: { fault: expect.stringContaining('the guards were changed, the smallest difference worth having was changed') },
  })
  await act(db, publisher, 'test.pause', { test: test1 })
  const saved = await act(db, editor, 'test.save', { test: test1, lock: (await opened()).lock, design: guarded })
  expect((await act(db, publisher, 'test.goOn', { test: test1, lock: saved.lock })).begins).toBe('round')
})

test('Today keeps a paused test, and says of one that runs that it can draw nobody', async () => {
  const { published_revision } = (await db('documents').where({ id: front }).first('published_revision')) as {
    published_revision: number
  }
  await db('documents').where({ id: front }).update({ published_revision: null })
  const today = async () => (await act(db, editor, 'today.read', {})).tests
  expect([(await opened()).drawsNobody, (await today())[0]?.drawsNobody]).toEqual(
    Array.from({ length: 2 }, () => expect.stringContaining('can draw nobody')),
  )
  await db('documents').where({ id: front }).update({ published_revision })
  await act(db, publisher, 'test.pause', { test: test1 })
  expect((await today()).map(({ status }) => status)).toEqual(['paused'])
  await act(db, publisher, 'test.goOn', { test: test1, lock: (await opened()).lock })
})

test('the tested part is taken away only where the test ends with it', async () => {
  await edit(remove('front-title'))
  expect(await effects()).toMatchObject([{ ways: ['end'] }])
  expect([(await publish('round')).status, (await publish('leave')).status]).toEqual([422, 422])
  expect((await publish('end')).status).toBe(200)
  expect([(await opened()).status, (await served())?.rounds]).toEqual(['ended', []])
})
