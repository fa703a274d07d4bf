import { documentSchema, type Edit } from '@/core/document'
import type { DocumentId, NodeId, TestId } from '@/core/ids'
import { inTransaction, type Database } from '@/server/database/connect'
import { createDocument, publishBody } from '@/server/stores/documents'
import { goLive } from '@/server/database/go-live'
import { makeRelease } from '@/server/stores/releases'
import { forgetCounts } from '@/server/ledger/count'
import { act, administrator, attempt, donePage, editor, freshDatabase, publisher, testPage } from '@/server/test-database'
import { postOn } from './letters'
import { tallyAll } from './work'

const leaf = (type: string, props: Record<string, string>) => ({ type, props, children: [] })
const call = documentSchema.parse({
  id: 'reserve',
  kind: 'callToAction',
  root: 'reserve-root',
  nodes: { 'reserve-root': leaf('callToActionText', { title: 'Reserve', buttonWords: 'Go', link: 'page:done' }) },
})
const letter = documentSchema.parse({
  id: 'sunday',
  kind: 'letter',
  root: 'sunday-root',
  nodes: {
    'sunday-root': { type: 'letter', props: { title: 'On Sunday' }, children: ['sunday-words', 'sunday-call'] },
    'sunday-words': leaf('text', { words: '<p>Read <a href="page:done">this</a>.</p>' }),
    'sunday-call': leaf('callToAction', { callToAction: 'reserve' }),
  },
})
const plan = { readers: 900, opens: 0.5, follows: { original: 0.2, variant: 0.2 }, buys: 0.5, value: 10 }
const sunday = letter.id
const now = new Date('2026-03-01T09:00:00Z')
const noted: unknown[] = []
const post = {
  now,
  hour: 3_600_000,
  origin: 'https://site.example',
  css: '.button{color:red}',
  log: (reason: unknown) => void noted.push(reason),
}
const weeksLater = { ...post, now: new Date(now.getTime() + 30 * 86_400_000) }

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
  await goLive(db, async (trx) => {
    await createDocument(trx, call, 5, 'Paula')
    await publishBody(trx, call.id, call, { note: '', author: 'Paula', lock: 0 })
    await createDocument(trx, letter, 6, 'Paula')
    await makeRelease(trx, 'a call', 'Paula')
  })
  const place: Edit = {
    kind: 'insert',
    parent: 'front-section' as NodeId,
    after: null,
    tree: { root: 'front-call' as NodeId, nodes: { 'front-call': leaf('callToAction', { callToAction: 'reserve' }) } },
  }
  const { lock } = await act(db, editor, 'document.edit', { document: testPage.id, base: 0, edits: [place] })
  await act(db, publisher, 'document.publish', { document: testPage.id, lock })
  await act(db, administrator, 'setting.save', { demonstration: true })
})
afterEach(() => db.destroy())

/** A test on the call to action that runs since before the letter. */
async function testOnCall(): Promise<TestId> {
  const root = call.root
  const made = await act(db, editor, 'version.create', { document: call.id, node: root, manner: 'chance', from: null })
  const edits: Edit[] = [{ kind: 'set', node: root, prop: 'title', value: 'Yours' }]
  await act(db, editor, 'version.save', { id: made.id, lock: made.lock, edits })
  const goal = await act(db, editor, 'goal.create', { name: 'Done', wiring: { kind: 'page', document: donePage.id } })
  const { test } = await act(db, editor, 'test.create', { parts: [{ document: call.id, node: root }] })
  const { design, lock } = await act(db, editor, 'test.open', { test })
  const saved = await act(db, editor, 'test.save', { test, lock, design: { ...design, primary: goal.id } })
  await act(db, publisher, 'test.start', { test, lock: saved.lock })
  await db('rounds').update({ started_at: new Date('2026-02-01T00:00:00Z') })
  return test
}
const opened = async () => {
  const view = await act(db, editor, 'letter.open', { document: sunday })
  const [sending] = view.sendings
  if (sending === undefined) throw new Error('nothing was sent')
  return sending
}
const drain = async (at: typeof post) => {
  while (await postOn(db, at));
}

test('a newsletter goes out once to everybody, and what its readers do counts for it and for its calls to action', async () => {
  await act(db, publisher, 'letter.send', { document: sunday, lock: 0, plan })
  expect((await attempt(db, publisher, 'letter.send', { document: sunday, lock: 0, plan })).status).toBe(409)
  await drain(post)
  expect(await opened()).toMatchObject({ status: 'sent', sent: 900, opened: 0, looks: [{ sent: 900, words: '' }] })
  await drain(weeksLater)
  await tallyAll(db)
  const sending = await opened()
  expect(sending.opened / 900).toBeCloseTo(0.5, 1)
  const [counted] = sending.calls
  expect(counted?.versions).toEqual([
    { version: 'original', name: 'Original', sent: 900, shown: sending.opened, followed: sending.followed },
  ])
  expect(sending.revenue).toBe(sending.orders * 10)
  expect(sending.orders).toBeGreaterThan(20)
  const channel = async (name: 'page' | 'newsletter') =>
    (await act(db, editor, 'call.list', { channel: name, only: call.id })).lines.map((line) => [
      line.views,
      line.clicks,
      line.revenue,
      line.ordersOpen,
    ])
  expect(await channel('newsletter')).toEqual([[sending.opened, sending.followed, sending.revenue, sending.orders]])
  expect(await channel('page')).toEqual([[0, 0, 0, 0]])
  expect((await act(db, editor, 'letter.list', {})).lines).toMatchObject([
    { sendings: 1, sent: 900, opened: sending.opened, revenue: sending.revenue },
  ])
})

test('where a test runs on its call to action, readers are drawn, see their version and take part by opening', async () => {
  const test = await testOnCall()
  await act(db, publisher, 'letter.send', { document: sunday, lock: 0, plan })
  await drain(post)
  await drain(weeksLater)
  await tallyAll(db)
  const sending = await opened()
  expect(sending.looks.map(({ words }) => words)).toEqual(expect.arrayContaining(['Reserve: Original', 'Reserve: Variant 1']))
  const [counted] = sending.calls
  expect(counted?.versions.map(({ sent }) => sent).reduce((sum, one) => sum + one, 0)).toBe(900)
  const result = await act(db, editor, 'result.read', { test, crowd: 0 })
  expect(result?.rates.map(({ exposed }) => exposed)).toEqual(counted?.versions.map(({ shown }) => shown))
  expect(result?.rates.every(({ converters }) => converters > 0)).toBe(true)
  const htmls = await Promise.all(
    sending.looks.map(({ look }) => act(db, editor, 'letter.look', { number: sending.number, look })),
  )
  expect(htmls.filter(({ html }) => html.includes('Yours'))).toHaveLength(1)
  expect(htmls[0]?.html).toContain(
    'https://site.example/letter/follow?pass=pass-of-the-recipient&amp;call=reserve&amp;utm_source=newsletter',
  )
  expect(htmls[0]?.html).toContain('https://site.example/done?utm_source=newsletter&amp;utm_medium=email')
  expect(htmls[0]?.html).toMatch(/class="button[^>]*style="color: red;"/)
  expect(htmls[0]?.words).toContain('https://site.example/letter/follow')
})

test('one that cannot be drawn stops with a reason, and nobody else waits for it', async () => {
  await act(db, publisher, 'letter.send', { document: sunday, lock: 0, plan })
  const faulty = {
    ...post,
    get css(): string {
      throw new Error('no style sheet')
    },
  }
  expect(await postOn(db, faulty)).toBe(false)
  expect(noted).toHaveLength(1)
  expect(await opened()).toMatchObject({
    status: 'stopped',
    sent: 0,
    message: expect.stringContaining('cannot be drawn') as string,
  })
})

test('its counts are the same when they are made again from the events', async () => {
  await testOnCall()
  await act(db, publisher, 'letter.send', { document: sunday, lock: 0, plan })
  await drain(post)
  await drain(weeksLater)
  await tallyAll(db)
  const before = await opened()
  await inTransaction(db, (trx) => forgetCounts(trx))
  await tallyAll(db)
  expect(await opened()).toEqual(before)
})

test.each<[string, DocumentId, Edit[], string]>([
  ['has no subject', sunday, [{ kind: 'set', node: letter.root, prop: 'title', value: '' }], 'no subject'],
  ['has no call to action', sunday, [{ kind: 'remove', node: 'sunday-call' as NodeId }], 'no call to action'],
])('a newsletter that %s is not sent, and says why', async (_, document, edits, words) => {
  const { lock } = await act(db, editor, 'document.edit', { document, base: 0, edits })
  const answer = await attempt(db, publisher, 'letter.send', { document, lock, plan })
  expect(answer).toMatchObject({ status: 422, body: { fault: expect.stringContaining(words) as string } })
})

test('where people are real, made-up readers add to the letter’s own figures and to nothing else', async () => {
  const test = await testOnCall()
  await act(db, administrator, 'setting.save', { demonstration: false })
  await act(db, publisher, 'letter.send', { document: sunday, lock: 0, plan })
  await drain(post)
  await drain(weeksLater)
  await tallyAll(db)
  const { opened: readers, followed } = await opened()
  expect([readers > 200, followed > 50]).toEqual([true, true])
  const result = await act(db, editor, 'result.read', { test, crowd: 0 })
  expect(result?.rates.map(({ assigned, exposed }) => [assigned, exposed])).toEqual([
    [0, 0],
    [0, 0],
  ])
  const [line] = (await act(db, editor, 'call.list', { only: call.id })).lines
  expect([line?.views, line?.revenue, (await act(db, editor, 'today.read', {})).viewsToday]).toEqual([0, 0, 0])
  expect(await act(db, editor, 'site.madeUp', {})).toEqual({ any: false, tests: [], calls: [] })
})

test('what made-up people are in is named, also after the site has stopped being a demonstration', async () => {
  const test = await testOnCall()
  await act(db, publisher, 'letter.send', { document: sunday, lock: 0, plan })
  await drain(post)
  await drain(weeksLater)
  await act(db, administrator, 'setting.save', { demonstration: false })
  expect(await act(db, editor, 'site.madeUp', {})).toEqual({ any: true, tests: [test], calls: [call.id] })
})

test('editors write newsletters, publishers send and stop them; a change in between is not sent unseen', async () => {
  expect((await attempt(db, editor, 'letter.send', { document: sunday, lock: 0, plan })).status).toBe(403)
  expect((await attempt(db, publisher, 'document.publish', { document: sunday, lock: 0 })).status).toBe(400)
  expect(
    (await attempt(db, editor, 'version.create', { document: sunday, node: letter.root, manner: 'chance', from: null })).status,
  ).toBe(400)
  const { number } = await act(db, publisher, 'letter.send', { document: sunday, lock: 0, plan })
  await act(db, publisher, 'letter.stop', { number })
  await drain(post)
  expect(await opened()).toMatchObject({ status: 'stopped', sent: 0 })
  expect((await attempt(db, publisher, 'letter.stop', { number })).status).toBe(409)
  await act(db, editor, 'document.edit', {
    document: sunday,
    base: 0,
    edits: [{ kind: 'set', node: letter.root, prop: 'title', value: 'On Monday' }],
  })
  expect((await attempt(db, publisher, 'letter.send', { document: sunday, lock: 0, plan })).status).toBe(409)
})
