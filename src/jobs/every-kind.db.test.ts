import { ORIGINAL } from '@/core/decide'
import type { Edit } from '@/core/document'
import { combinationId } from '@/core/experiment'
import type { DocumentId, NodeId, VersionId } from '@/core/ids'
import { tallyAll } from './work'
import { stamp } from '@/core/events'
import type { Database } from '@/server/database/connect'
import { newestReleaseNumber, readRelease } from '@/server/stores/releases'
import { writeEvents } from '@/server/stores/events'
import {
  act,
  asAlways,
  administrator,
  attempt,
  donePage,
  editor,
  freshDatabase,
  publisher,
  testPage,
} from '@/server/test-database'

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

const set = (node: string, prop: string, value: string): Edit => ({ kind: 'set', node: node as NodeId, prop, value })
const front = testPage.id

async function variant(document: DocumentId, node: string, edits: Edit[], who = editor): Promise<VersionId> {
  const made = await act(db, editor, 'version.create', { document, node: node as NodeId, manner: 'chance', from: null })
  await act(db, who, 'version.save', { id: made.id, lock: made.lock, edits })
  return made.id
}
async function startedTest(parts: { document: DocumentId; node: string }[]) {
  const { test } = await act(db, editor, 'test.create', {
    parts: parts.map(({ document, node }) => ({ document, node: node as NodeId })),
  })
  const goal = await act(db, editor, 'goal.create', { name: 'Done', wiring: { kind: 'page', document: donePage.id } })
  const { design, lock } = await act(db, editor, 'test.open', { test })
  const saved = await act(db, editor, 'test.save', { test, lock, design: { ...design, primary: goal.id } })
  await act(db, publisher, 'test.start', { test, lock: saved.lock })
  return { test, design }
}
const published = async () => {
  const release = (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release ?? null
  if (release === null) throw new Error('no release')
  return release
}
const wordsOf = async (node: string) =>
  (await published()).documents.map(({ nodes }) => nodes[node]?.props.words).find((words) => words !== undefined)

/** A menu that stands on the front page. */
async function menuOnFront(): Promise<DocumentId> {
  const { id } = await act(db, editor, 'document.create', { kind: 'menu', title: 'Main' })
  const { document, lock } = await act(db, editor, 'document.open', { document: id })
  const item = { type: 'menuItem', props: { words: 'Here', link: 'page:front' }, children: [] }
  await act(db, editor, 'document.edit', {
    document: id,
    base: lock,
    edits: [{ kind: 'insert', parent: document.root, after: null, tree: { root: 'item' as NodeId, nodes: { item } } }],
  })
  await act(db, publisher, 'document.publish', { document: id, lock: lock + 1 })
  const page = await act(db, editor, 'document.open', { document: front })
  const place = { type: 'menu', props: { menu: id, place: 'header' }, children: [] }
  await act(db, editor, 'document.edit', {
    document: front,
    base: page.lock,
    edits: [{ kind: 'insert', parent: page.document.root, after: null, tree: { root: 'place' as NodeId, nodes: { place } } }],
  })
  await act(db, publisher, 'document.publish', { document: front, lock: page.lock + 1 })
  return id
}

describe('a test of several parts', () => {
  test('is taken over in every document it touches, in one release, and taken back in one', async () => {
    const menu = await menuOnFront()
    const title = await variant(front, 'front-title', [set('front-title', 'words', 'Welcome')])
    const { document } = await act(db, editor, 'document.open', { document: menu })
    const item = await variant(menu, document.root, [set('item', 'words', 'Home')])
    const { test, design } = await startedTest([
      { document: front, node: 'front-title' },
      { document: menu, node: document.root },
    ])
    expect(design.arms.map(({ levels }) => levels)).toEqual([
      [ORIGINAL, ORIGINAL],
      [ORIGINAL, item],
      [title, ORIGINAL],
      [title, item],
    ])
    const before = await newestReleaseNumber(db)
    const decided = await act(db, publisher, 'test.decide', {
      test,
      version: combinationId([title, item]),
      reason: 'because',
    })
    expect(decided).toMatchObject({ release: (before ?? 0) + 1, unfit: [] })
    expect([await wordsOf('front-title'), await wordsOf('item')]).toEqual(['Welcome', 'Home'])
    await act(db, publisher, 'test.undo', { test })
    expect([await wordsOf('front-title'), await wordsOf('item')]).toEqual(['Hello', 'Here'])
  })

  test('refuses a combination that does not name what each part shows', async () => {
    const title = await variant(front, 'front-title', [set('front-title', 'words', 'Welcome')])
    const { test } = await act(db, editor, 'test.create', { parts: [{ document: front, node: 'front-title' as NodeId }] })
    const { design, lock } = await act(db, editor, 'test.open', { test })
    const arms = design.arms.map((arm) => ({ ...arm, levels: [title, title] }))
    expect((await attempt(db, editor, 'test.save', { test, lock, design: { ...design, arms } })).status).toBe(400)
  })
})

test('a menu that stands nowhere cannot be tested, and says so', async () => {
  const { id } = await act(db, editor, 'document.create', { kind: 'menu', title: 'Loose' })
  const { document, lock } = await act(db, editor, 'document.open', { document: id })
  await act(db, publisher, 'document.publish', { document: id, lock })
  await variant(id, document.root, [set(document.root, 'title', 'Other')])
  const { test } = await act(db, editor, 'test.create', { parts: [{ document: id, node: document.root }] })
  const { blocks } = await act(db, editor, 'test.open', { test })
  expect(blocks.map(({ words }) => words).join()).toContain('stands on no published page')
})

test('a variant switched off while the test runs begins an epoch, which says why; twice is refused', async () => {
  const bold = await variant(front, 'front-title', [set('front-title', 'words', 'Bold')])
  const calm = await variant(front, 'front-title', [set('front-title', 'words', 'Calm')])
  const { test, design } = await startedTest([{ document: front, node: 'front-title' }])
  const arms = [
    { version: ORIGINAL, weight: 5000 },
    { version: bold, weight: 5000 },
  ]
  expect(design.arms.map(({ version }) => version)).toContain(calm)
  expect(await act(db, publisher, 'test.change', { test, arms })).toMatchObject({ begins: 'epoch', number: 2 })
  expect((await act(db, editor, 'test.open', { test })).rounds).toMatchObject([
    { number: 1, because: '', epochs: [{ because: 'a variant was switched off' }] },
  ])
  expect((await published()).rounds[0]?.versions.map(({ id }) => id)).toEqual([bold])
  expect((await attempt(db, publisher, 'test.change', { test, arms })).status).toBe(400)
  expect((await attempt(db, editor, 'test.change', { test, arms })).status).toBe(403)
})

describe('a script', () => {
  const script: Edit = {
    kind: 'insert',
    parent: 'front-section' as NodeId,
    after: null,
    tree: { root: 'code' as NodeId, nodes: { code: { type: 'script', props: { code: 'run()' }, children: [] } } },
  }

  test('is written by administrators alone, in a variant and in a draft, and stays when others edit beside it', async () => {
    const id = await variant(front, 'front-title', [])
    const { lock } = await act(db, administrator, 'version.save', { id, lock: 1, edits: [script] })
    const beside = set('front-title', 'words', 'With a script')
    expect((await attempt(db, editor, 'version.save', { id, lock, edits: [script, beside] })).status).toBe(200)
    const worse: Edit = {
      ...script,
      tree: { ...script.tree, nodes: { code: { type: 'script', props: { code: 'steal()' }, children: [] } } },
    }
    expect(await attempt(db, publisher, 'version.save', { id, lock: lock + 1, edits: [worse] })).toMatchObject({ status: 403 })
    expect((await attempt(db, publisher, 'document.edit', { document: front, base: 0, edits: [script] })).status).toBe(403)
  })

  test('is not brought along by a copy, a template or an older revision either', async () => {
    await act(db, administrator, 'document.edit', { document: front, base: 0, edits: [script] })
    await act(db, publisher, 'document.publish', { document: front, lock: 1 })
    const copy = { kind: 'page' as const, title: 'Copy', path: '/copy', from: front }
    expect((await attempt(db, editor, 'document.create', copy)).status).toBe(403)
    expect(
      (await attempt(db, editor, 'document.saveAs', { document: front, kind: 'template', node: null, title: 'T' })).status,
    ).toBe(403)
    await act(db, editor, 'document.edit', { document: front, base: 1, edits: [{ kind: 'remove', node: 'code' as NodeId }] })
    expect((await attempt(db, editor, 'document.restore', { document: front, revision: 2, lock: 2 })).status).toBe(403)
    expect((await attempt(db, administrator, 'document.create', copy)).status).toBe(200)
  })

  test('runs nowhere before an administrator allows it', async () => {
    await variant(front, 'front-title', [script], administrator)
    const { test } = await act(db, editor, 'test.create', { parts: [{ document: front, node: 'front-title' as NodeId }] })
    const found = async () => (await act(db, editor, 'test.open', { test })).blocks.map(({ code }) => code)
    expect(await found()).toContain('scriptsOff')
    expect((await attempt(db, publisher, 'setting.save', { scripts: true })).status).toBe(403)
    await act(db, administrator, 'setting.save', { scripts: true })
    expect(await found()).not.toContain('scriptsOff')
    expect((await published()).scripts).toBe(true)
  })
})

describe('a new page', () => {
  test('is a copy under ids of its own, a template, or empty; an address is given once', async () => {
    const copy = await act(db, editor, 'document.create', { kind: 'page', title: 'Copy', path: '/copy', from: front })
    const { document, state } = await act(db, editor, 'document.open', { document: copy.id })
    expect([document.nodes[document.root]?.props.title, state]).toEqual(['Copy', 'draft'])
    expect(Object.keys(document.nodes).filter((id) => testPage.nodes[id] !== undefined)).toEqual([])
    expect((await attempt(db, editor, 'document.create', { kind: 'page', title: 'X', path: '/copy' })).status).toBe(400)

    const { id: template } = await act(db, editor, 'document.saveAs', {
      document: front,
      kind: 'template',
      node: null,
      title: 'Like it',
    })
    expect((await attempt(db, publisher, 'document.publish', { document: template, lock: 0 })).status).toBe(400)
    expect((await act(db, editor, 'template.list', {})).templates.map(({ id }) => id)).toEqual([template])
    await act(db, editor, 'document.create', { kind: 'page', title: 'From it', path: '/from-it', from: template })
    await act(db, editor, 'document.create', { kind: 'page', title: 'Empty', path: '/empty' })
  })

  test('that moves leaves a way from its old address, which ends when the address is taken again', async () => {
    const move = async (path: string) => {
      const { lock } = await act(db, editor, 'document.open', { document: front })
      await act(db, editor, 'document.edit', { document: front, base: lock, edits: [set('front-root', 'path', path)] })
      await act(db, publisher, 'document.publish', { document: front, lock: lock + 1 })
    }
    await move('/start')
    expect((await published()).redirects).toEqual([{ from: '/', document: front }])
    await move('/')
    expect((await published()).redirects).toEqual([{ from: '/start', document: front }])
  })
})

test('a call to action is credited with what those who pressed it do within fourteen days, once for each goal', async () => {
  const { id: call } = await act(db, editor, 'document.create', { kind: 'callToAction', title: 'Reserve' })
  const { document } = await act(db, editor, 'document.open', { document: call })
  const done = await act(db, editor, 'goal.create', { name: 'Done', wiring: { kind: 'page', document: donePage.id } })
  await act(db, publisher, 'goal.publish', { goal: done.id, lock: 0 })
  await asAlways(db)
  const at = new Date('2026-03-02T10:00:00Z')
  let count = 0
  const id = () => (count++).toString(16).padStart(32, '0')
  const later = (days: number) => new Date(at.getTime() + days * 86_400_000)
  const page = { path: '', pageType: '' }
  const sender = (visitor: string, when: Date) => ({ visitor, at: when, crowd: 0, page, arrival: null })
  const seen = { i: id(), k: 'call' as const, c: call }
  const press = { i: id(), k: 'click' as const, n: [document.root], m: [] }
  await writeEvents(db, stamp({ d: front, e: [seen, press] }, sender('1'.repeat(32), at)))
  await writeEvents(db, stamp({ d: donePage.id, e: [{ i: id(), k: 'page' }] }, sender('1'.repeat(32), later(3))))
  await writeEvents(db, stamp({ d: donePage.id, e: [{ i: id(), k: 'page' }] }, sender('1'.repeat(32), later(4))))
  await writeEvents(db, stamp({ d: front, e: [{ i: id(), k: 'call', c: call }] }, sender('2'.repeat(32), at)))
  await writeEvents(db, stamp({ d: donePage.id, e: [{ i: id(), k: 'page' }] }, sender('2'.repeat(32), later(1))))
  await tallyAll(db)
  const line = async (filter = {}) => {
    const [found] = (await act(db, editor, 'call.list', filter)).lines
    return [found?.views, found?.clicks, found?.submissions, found?.worth]
  }
  expect(await line()).toEqual([2, 1, 1, 1])
  expect(await line({ channel: 'newsletter' })).toEqual([0, 0, 0, 0])
  expect(await line({ from: '2026-03-05', to: '2026-03-05' })).toEqual([0, 0, 1, 1])
  const { csv } = await act(db, editor, 'call.table', {})
  expect(csv.split('\r\n').slice(0, 2)).toEqual([
    'call to action,campaign,look,places,views,clicks,click-through,submissions,worth,revenue,orders open,orders closed,last change',
    expect.stringMatching(/^Reserve,,Accent button,,2,1,0\.5000,1,1,0,0,0,/),
  ])
})
