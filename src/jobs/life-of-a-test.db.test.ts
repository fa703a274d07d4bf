import type { TestId, VersionId } from '@/core/ids'
import { drawPictures } from './work'
import type { Database } from '@/server/database/connect'
import { newestRelease, newestReleaseNumber, readRelease } from '@/server/stores/releases'
import { act, attempt, editor, freshDatabase, publisher, readyTest, testPage } from '@/server/test-database'

let db: Database
let test1: TestId
let variant: VersionId
beforeAll(async () => {
  db = await freshDatabase()
  const made = await readyTest(db, 'Other')
  test1 = made.test
  variant = made.variant
})
afterAll(() => db.destroy())

const opened = () => act(db, publisher, 'test.open', { test: test1 })
const served = async () => (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release
const publishedTitle = async () =>
  (await served())?.documents.find(({ id }) => id === testPage.id)?.nodes['front-title']?.props.words

describe('the life of a test, step by step', () => {
  test('a press on “start” twice starts it once', async () => {
    const { lock } = await opened()
    const answers = await Promise.all([1, 2].map(() => attempt(db, publisher, 'test.start', { test: test1, lock })))
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409])
    expect((await served())?.rounds).toHaveLength(1)
  })

  test('while it runs, what affects the result is locked and the question is not', async () => {
    const { design, lock } = await opened()
    expect((await attempt(db, editor, 'test.save', { test: test1, lock, design: { ...design, share: 5000 } })).status).toBe(422)
    expect((await attempt(db, editor, 'version.save', { id: variant, lock: 1, edits: [] })).status).toBe(422)
    expect((await attempt(db, editor, 'test.save', { test: test1, lock, design: { ...design, problem: 'Why?' } })).status).toBe(
      200,
    )
  })

  test('going on after a change opens a new round, without one it does not', async () => {
    await act(db, publisher, 'test.pause', { test: test1 })
    expect((await served())?.rounds[0]?.paused).toBe(true)
    expect((await act(db, publisher, 'test.goOn', { test: test1, lock: (await opened()).lock })).begins).toBeNull()
    await act(db, publisher, 'test.pause', { test: test1 })
    const { design, lock } = await opened()
    const saved = await act(db, editor, 'test.save', { test: test1, lock, design: { ...design, share: 5000 } })
    expect((await act(db, publisher, 'test.goOn', { test: test1, lock: saved.lock })).begins).toBe('round')
    expect((await opened()).rounds.map(({ number, endedAt }) => [number, endedAt === null])).toEqual([
      [2, true],
      [1, false],
    ])
  })

  test('another split, or one variant less, begins an epoch of the same round and is live at once', async () => {
    const { design } = await opened()
    const [original, first] = design.arms
    if (original === undefined || first === undefined) throw new Error('two arms were expected')
    const arms = [
      { ...original, weight: 2000 },
      { ...first, weight: 8000 },
    ]
    expect((await attempt(db, editor, 'test.change', { test: test1, arms })).status).toBe(403)
    expect(await act(db, publisher, 'test.change', { test: test1, arms })).toMatchObject({ begins: 'epoch', number: 2 })
    expect(await attempt(db, publisher, 'test.change', { test: test1, arms })).toMatchObject({ status: 400 })
    expect((await served())?.rounds[0]?.design.arms.map(({ weight }) => weight)).toEqual([2000, 8000])
    expect((await opened()).rounds[0]).toMatchObject({ number: 2, epochs: [{ because: 'the split was changed' }] })
  })

  test('taking over against the reading needs a reason', async () => {
    expect(await attempt(db, publisher, 'test.decide', { test: test1, version: variant, reason: ' ' })).toMatchObject({
      status: 400,
      body: { fault: expect.stringContaining('Write down why') },
    })
    expect((await opened()).status).toBe('running')
  })

  test('taken over, everybody gets it in one release, and the page has nothing left of the test', async () => {
    const decisions = [1, 2].map(() =>
      attempt(db, publisher, 'test.decide', { test: test1, version: variant, reason: 'We like it' }),
    )
    expect((await Promise.all(decisions)).map(({ status }) => status).sort()).toEqual([200, 409])
    expect([await publishedTitle(), (await served())?.rounds]).toEqual(['Other', []])
    expect((await newestRelease(db))?.reason).toContain('took ‘Variant 1’ over')
    const page = await act(db, editor, 'document.open', { document: testPage.id })
    expect([page.state, page.versions]).toEqual(['published', []])
  })

  test('the notebook keeps the question, the reason and both pictures', async () => {
    await drawPictures(db, '/look/site.css')
    const { lines } = await act(db, editor, 'notebook.list', {})
    expect(lines).toMatchObject([
      { problem: 'Why?', decision: { kind: 'take', reason: 'We like it', reading: 'tooEarly' }, hasPictures: true },
    ])
    const pictures = await Promise.all(
      (['original', 'chosen'] as const).map((which) => act(db, editor, 'notebook.picture', { test: test1, which })),
    )
    expect(pictures.map(({ html }) => /<h2[^>]*>([^<]*)</.exec(html ?? '')?.[1])).toEqual(['Hello', 'Other'])
  })

  test('taken back, the page is as it was and the test waits for another decision', async () => {
    await act(db, publisher, 'test.undo', { test: test1 })
    const page = await act(db, editor, 'document.open', { document: testPage.id })
    expect([await publishedTitle(), page.document, (await opened()).status]).toEqual(['Hello', testPage, 'ended'])
  })
})
