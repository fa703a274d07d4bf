import type { Database } from '../database/connect'
import type { Condition } from '@/core/decide'
import type { NodeId, SegmentId } from '@/core/ids'
import { newestReleaseNumber, readRelease } from '../stores/releases'
import { act, attempt, editor, freshDatabase, publisher, readyTest, testPage } from '../test-database'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

const phone: Condition = { kind: 'device', device: 'phone' }
const tablet: Condition = { kind: 'device', device: 'tablet' }
const place = { document: testPage.id, node: 'front-title' as NodeId }
const served = async () => (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release
const named = (segment: SegmentId): Condition => ({ kind: 'segment', segment, fits: true })
const words = (answer: { readonly body: unknown }) => (answer.body as { fault?: string }).fault ?? ''

/** A rule on the title of the front page, for those whom a segment fits. */
async function ruleFor(segment: SegmentId) {
  const { id, lock } = await act(db, editor, 'version.create', { ...place, manner: 'rule', from: null })
  await act(db, editor, 'version.save', {
    ...{ id, lock, name: 'Small' },
    edits: [{ kind: 'set', node: place.node, prop: 'words', value: 'Small' }],
    condition: named(segment),
  })
  return id
}

test('a test for a segment that fits nobody cannot start; the segment goes when nothing names it', async () => {
  const { id } = await act(db, editor, 'segment.create', { name: 'Zero', condition: { kind: 'any', of: [] } })
  const ready = await readyTest(db, 'For nobody')
  const design = { ...(await act(db, editor, 'test.open', { test: ready.test })).design, audience: named(id) }
  const { lock } = await act(db, editor, 'test.save', { test: ready.test, lock: ready.lock, design })
  const answer = await attempt(db, publisher, 'test.start', { test: ready.test, lock })
  expect([answer.status, words(answer)]).toEqual([422, expect.stringMatching(/nobody/i)])
  // Once nothing names it, it can go.
  await act(db, editor, 'test.remove', { test: ready.test })
  await act(db, editor, 'segment.remove', { id })
  expect((await act(db, editor, 'segment.list', {})).segments).toEqual([])
})

test('a segment is named by a rule and a test: each is told, the rule goes with it, the test that runs keeps its own', async () => {
  const { id } = await act(db, editor, 'segment.create', { name: 'Small screens', condition: phone })
  const rule = await ruleFor(id)
  await act(db, publisher, 'personalization.publish', place)
  const ready = await readyTest(db, 'Named')
  const design = { ...(await act(db, editor, 'test.open', { test: ready.test })).design, audience: named(id) }
  const { lock } = await act(db, editor, 'test.save', { test: ready.test, lock: ready.lock, design })
  await act(db, publisher, 'test.start', { test: ready.test, lock })

  const [segment] = (await act(db, editor, 'segment.list', {})).segments
  expect(segment).toMatchObject({ rules: [{ version: rule }], tests: [{ id: ready.test }], live: [{ id: testPage.id }] })
  expect(words(await attempt(db, editor, 'segment.remove', { id }))).toContain('is still named by the rule ‘Small’')

  // What is live by it is for publishers to change; its name is not.
  const change = { id, lock: 1, name: 'Small screens', condition: tablet }
  expect((await attempt(db, editor, 'segment.save', change)).status).toBe(403)
  expect(await act(db, editor, 'segment.save', { ...change, name: 'Small', condition: phone })).toEqual({
    lock: 2,
    release: null,
  })
  expect(words(await attempt(db, publisher, 'segment.save', change))).toContain('has changed this segment')
  const { release } = await act(db, publisher, 'segment.save', { ...change, lock: 2 })
  expect(release).toBe(await newestReleaseNumber(db))
  const now = await served()
  expect(now?.segments).toMatchObject([{ id, condition: tablet }])
  expect(now?.rounds.find(({ test }) => test === ready.test)?.segments).toMatchObject([{ id, condition: phone }])
})

test.each<[string, { name: string; condition: Condition }, string]>([
  ['two of one name', { name: 'Small screens', condition: phone }, 'already'],
  ['one of another segment', { name: 'Nested', condition: named('any' as SegmentId) }, 'cannot be made of other segments'],
  ['one without a name', { name: ' ', condition: phone }, 'give the segment a name'],
])('there are not %s', async (_, segment, why) => {
  expect(words(await attempt(db, editor, 'segment.create', segment))).toContain(why)
})

test('of those who make a segment of one name at the same moment, one does, and the others are told that it is there', async () => {
  const make = () => attempt(db, editor, 'segment.create', { name: 'At once', condition: phone })
  const answers = await Promise.all([make(), make(), make()])
  // Whoever comes a moment later finds it; whoever comes at the same meets it.
  const refused = answers.filter(({ status }) => status !== 200)
  expect(refused).toHaveLength(2)
  for (const answer of refused) {
    expect([400, 409]).toContain(answer.status)
    expect(words(answer)).toMatch(/already|at the same moment/)
  }
  const { segments } = await act(db, editor, 'segment.list', {})
  expect(segments.filter(({ name }) => name === 'At once')).toHaveLength(1)
})
