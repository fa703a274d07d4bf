import type { Database } from '../database/connect'
import type { DocumentId, NodeId } from '@/core/ids'
import { newestReleaseNumber, readRelease } from '../stores/releases'
import { act, attempt, donePage, editor, freshDatabase, publisher, readyTest, testPage } from '../test-database'

let db: Database
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

test('of two tests on one part that are started at the same moment, one runs and the other is told of it', async () => {
  const tests = [await readyTest(db, 'One'), await readyTest(db, 'Two')]
  const answers = await Promise.all(tests.map(({ test, lock }) => attempt(db, publisher, 'test.start', { test, lock })))
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 422])
  expect(JSON.stringify(answers)).toContain('is already testing this part')
})

describe('tests of one group', () => {
  /** A test of some part, as many of the group's visitors as are wanted. */
  async function inGroup(document: DocumentId, node: string, share: number) {
    const place = { document, node: node as NodeId }
    const made = await act(db, editor, 'version.create', { ...place, manner: 'chance', from: null })
    await act(db, editor, 'version.save', {
      id: made.id,
      lock: made.lock,
      edits: [{ kind: 'set', node: place.node, prop: 'words', value: 'Other' }],
    })
    const { test } = await act(db, editor, 'test.create', { parts: [place] })
    const goal = await act(db, editor, 'goal.create', { name: 'Came', wiring: { kind: 'page', document: testPage.id } })
    const { design, lock } = await act(db, editor, 'test.open', { test })
    const wanted = { ...design, primary: goal.id, group: 'Words', share }
    return { test, design: wanted, lock: (await act(db, editor, 'test.save', { test, lock, design: wanted })).lock }
  }
  const lots = async () =>
    ((await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release.rounds ?? []).flatMap((round) =>
      round.lots === null ? [] : [round.lots],
    )

  test('divide its visitors between them, and what is not free cannot be taken', async () => {
    const tree = {
      root: 'done-main' as NodeId,
      nodes: {
        'done-main': { type: 'mainPart', props: {}, children: ['done-part' as NodeId] },
        'done-part': { type: 'section', props: {}, children: ['done-title' as NodeId] },
        'done-title': { type: 'heading', props: { words: 'Done' }, children: [] },
      },
    }
    await act(db, editor, 'document.edit', {
      document: donePage.id,
      base: 0,
      edits: [{ kind: 'insert', parent: donePage.root, after: null, tree }],
    })
    await act(db, publisher, 'document.publish', { document: donePage.id, lock: 1 })
    const one = await inGroup(testPage.id, 'front-title', 6000)
    const two = await inGroup(donePage.id, 'done-title', 6000)
    await db('tests')
      .whereNot({ number: Number(one.test.slice(2)) })
      .where({ status: 'running' })
      .update({ status: 'ended' })
    await db('rounds').update({ ended_at: new Date() })
    await act(db, publisher, 'test.start', { test: one.test, lock: one.lock })
    expect(await attempt(db, publisher, 'test.start', { test: two.test, lock: two.lock })).toMatchObject({
      status: 422,
      body: { fault: expect.stringContaining('40% are free') },
    })
    const { lock } = await act(db, editor, 'test.save', {
      test: two.test,
      lock: two.lock,
      design: { ...two.design, share: 4000 },
    })
    await act(db, publisher, 'test.start', { test: two.test, lock })
    expect((await lots()).sort()).toEqual([[[0, 6000]], [[6000, 10_000]]])
    const { design } = await act(db, editor, 'test.open', { test: one.test })
    expect((await attempt(db, publisher, 'test.change', { test: one.test, arms: design.arms, share: 7000 })).status).toBe(422)
  })
})
