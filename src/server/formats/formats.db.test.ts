import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import type { Edit } from '@/core/document'
import { FileFault } from '@/core/formats'
import type { NodeId } from '@/core/ids'
import { siteOrigin } from '@/serving/addresses'
import type { Database } from '../database/connect'
import { act, administrator, attempt, editor, freshDatabase, readyTest, testPage } from '../test-database'
import { lookAtArchive, readArchive, writeArchive } from './archive'
import { readMedia } from '../stores/media'
import { checkFile } from './checked-file'
import { keepFile } from './picture-file'

let db: Database

async function archived(): Promise<Uint8Array> {
  const chunks: Uint8Array[] = []
  for await (const chunk of writeArchive(db)) chunks.push(chunk)
  return Buffer.concat(chunks)
}
function onDisk(bytes: Uint8Array): string {
  const path = join(mkdtempSync(join(tmpdir(), 'archive-')), 'site.zip')
  writeFileSync(path, bytes)
  return path
}
const load = (bytes: Uint8Array) => readArchive(db, onDisk(bytes), administrator)
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

/** One white pixel. */
const pixel = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8/5+hHgAHggJ/PchI7wAAAABJRU5ErkJggg==',
  'base64',
)

describe('a file for the library', () => {
  test('is known by what is in it, and kept once', async () => {
    const first = await keepFile(db, pixel, { title: 'Pixel', alt: 'White', author: 'Emil' })
    expect(first).toMatchObject({ type: 'image/png', width: 1, height: 1, name: expect.stringMatching(/^m-[0-9a-f]{32}$/) })
    expect(await keepFile(db, pixel, { title: 'Again', alt: '', author: 'Emil' })).toEqual(first)
    expect((await act(db, editor, 'media.list', {})).lines).toMatchObject([{ title: 'Pixel', alt: 'White' }])
  })

  test.each([
    ['a drawing of no size', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'), 'its size cannot be read'],
    ['a page that is called a picture', Buffer.from('<html>'), 'no picture or film'],
    ['a damaged picture', pixel.subarray(0, 12), 'damaged'],
    ['a picture that is too large', Buffer.concat([pixel, Buffer.alloc(9_000_000)]), '8 MB are the most'],
  ])('is refused: %s', (_, body, words) => {
    expect(() => checkFile(body)).toThrow(words)
  })
})

describe('a document, a variant and a test', () => {
  test('go out and come in again beside what is there', async () => {
    const { test } = await readyTest(db, 'Welcome')
    const out = await act(db, editor, 'format.test', { test })
    const { made } = await act(db, editor, 'format.take', { as: 'json', text: out.text })
    const [path] = made.map((one) => one.path)
    expect(path).toBe('/tests/t-2')
    const again = await act(db, editor, 'test.open', { test: 't-2' })
    expect(again.versions.map(({ edits }) => edits)).toEqual(
      (await act(db, editor, 'test.open', { test })).versions.map(({ edits }) => edits),
    )
    expect(again.blocks).toEqual([])

    const page = await act(db, editor, 'format.document', { document: testPage.id, as: 'json' })
    const taken = await act(db, editor, 'format.take', { as: 'json', text: page.text })
    expect(taken.notes).toEqual([expect.stringContaining('Its address was taken')])
  })

  test('with a fault are refused whole, with its place', async () => {
    const before = await act(db, editor, 'site.read', {})
    for (const [as, text, words] of [
      ['json', '{\n  "format": }', 'Line 2, column 13'],
      [
        'json',
        JSON.stringify({
          format: 'upbeat-sprig',
          version: 2,
          kind: 'document',
          document: { id: 'x', kind: 'page', root: { type: 'page', children: [{ type: 'marquee' }] } },
        }),
        'document › root › children › 0',
      ],
      ['opml', '<opml version="2.0"><body>', 'Line 1'],
      ['html', '<table></table>', 'nothing in this file'],
      ['html', '%PDF-1.7 <p>x</p>', 'This is a PDF'],
    ] as const)
      expect(await attempt(db, editor, 'format.take', { as, text })).toMatchObject({
        status: 400,
        body: { fault: expect.stringContaining(words) },
      })
    expect((await act(db, editor, 'site.read', {})).total).toBe(before.total)
  })

  test('a menu goes out and comes in as an outline, its links led to pages', async () => {
    const text =
      '<?xml version="1.0"?><opml version="2.0"><head><title>Main</title></head><body><outline text="Done" url="/done"><outline text="Out" url="https://example.org/"/></outline><outline text="Lost" url="/gone"/></body></opml>'
    const { made, notes } = await act(db, editor, 'format.take', { as: 'opml', text })
    expect(notes).toEqual([expect.stringContaining('“Lost” leads to “/gone”')])
    const out = await act(db, editor, 'format.document', { document: made[0]?.id ?? testPage.id, as: 'opml' })
    expect(out.text).toContain(`<outline text="Done" type="link" url="${siteOrigin()}/done">`)
  })
})

/** A rule on the title, for those whom a segment of this name fits. */
async function ruleFor(name: string) {
  const { id: segment } = await act(db, editor, 'segment.create', { name, condition: { kind: 'device', device: 'phone' } })
  const place = { document: testPage.id, node: 'front-title' as NodeId }
  const { id, lock } = await act(db, editor, 'version.create', { ...place, manner: 'rule', from: null })
  await act(db, editor, 'version.save', {
    ...{ id, lock, name: 'Small', condition: { kind: 'segment', segment, fits: true } },
    edits: [{ kind: 'set', node: place.node, prop: 'words', value: 'Small' }],
  })
  return { version: id, segment, place }
}

describe('the rules of a part', () => {
  test('go out with the segments that they name, and come in below those that are there', async () => {
    const { segment, place } = await ruleFor('Thumbs')
    const { text } = await act(db, editor, 'format.rules', place)
    await act(db, editor, 'format.take', { as: 'json', text })
    // The segment is here and asks the same, so that there is one of it.
    expect((await act(db, editor, 'segment.list', {})).segments).toMatchObject([{ id: segment, rules: [{}, {}] }])
    const { rules, live } = await act(db, editor, 'personalization.read', place)
    expect([live, rules.map(({ name, reach }) => [name, reach.kind])]).toEqual([
      false,
      [
        ['Small', 'unknown'],
        ['Small', 'never'],
      ],
    ])
    const elsewhere = text.replace('"front-title"', '"nowhere"')
    expect((await attempt(db, editor, 'format.take', { as: 'json', text: elsewhere })).status).toBe(400)
    const { text: segments } = await act(db, editor, 'format.segments', {})
    const other = segments.replace('"phone"', '"tablet"')
    await act(db, editor, 'format.take', { as: 'json', text: other })
    expect((await act(db, editor, 'segment.list', {})).segments.map(({ name }) => name)).toEqual(['Thumbs', 'thumbs 1'])
  })
})

describe('a whole site', () => {
  test('is loaded by another instance as it was, with its pictures and its tests', async () => {
    await readyTest(db, 'Welcome')
    const { name } = await keepFile(db, pixel, { title: 'Pixel', alt: 'White', author: 'Emil' })
    const rule = await ruleFor('Thumbs')
    const archive = await archived()
    await db.destroy()
    db = await freshDatabase()
    // Another segment of that name is here: the rule goes by the one that came with it.
    await act(db, editor, 'segment.create', { name: 'thumbs', condition: { kind: 'device', device: 'tablet' } })
    const said = await lookAtArchive(db, onDisk(archive))
    expect(said.groups).toMatchObject([
      { kind: 'documents', same: 2 },
      { kind: 'tests', new: 1 },
      { kind: 'versions', new: 2 },
      { kind: 'segments', new: 1 },
      { kind: 'goals' },
      { kind: 'campaigns' },
      { kind: 'media', new: 1 },
      { kind: 'settings', same: 1 },
      { kind: 'rules', new: 0 },
      { kind: 'plans', new: 0 },
      { kind: 'redirects', new: 0 },
      { kind: 'history', new: 0 },
      { kind: 'takenOff', new: 0 },
    ])
    expect({ ...(await load(archive)), release: null }).toEqual(said)
    const { design, blocks } = await act(db, editor, 'test.open', { test: 't-1' })
    expect([design.arms.length, blocks]).toEqual([2, []])
    const { segments } = await act(db, editor, 'segment.list', {})
    expect(segments.find(({ rules }) => rules.some(({ version }) => version === rule.version))).toMatchObject({
      ...{ id: rule.segment, name: 'thumbs 1' },
      condition: { kind: 'device', device: 'phone' },
    })
    expect((await load(archive)).release).toBeNull()
    expect((await act(db, editor, 'media.list', {})).lines.map((line) => line.name)).toEqual([name])
    expect((await act(db, editor, 'document.open', { document: testPage.id })).document).toEqual(testPage)
  })

  test('that is loaded twice does nothing the second time; what differs is replaced, or left out with the reason', async () => {
    const { test } = await readyTest(db, 'Welcome')
    const archive = await archived()
    const tally = ({ groups, named }: Awaited<ReturnType<typeof load>>) => ({
      ...Object.fromEntries(
        groups.map(({ kind, new: fresh, replaced, same, skipped }) => [kind, [fresh, replaced, same, skipped]]),
      ),
      why: named.flatMap(({ why }) => (why === '' ? [] : [why])),
    })
    const again = await load(archive)
    expect([again.release, tally(again)]).toEqual([
      null,
      expect.objectContaining({ documents: [0, 0, 2, 0], tests: [0, 0, 1, 0], versions: [0, 0, 1, 0] }),
    ])
    expect((await act(db, editor, 'test.list', {})).total).toBe(1)

    // Otherwise here: a draft is replaced.
    const { design, lock } = await act(db, editor, 'test.open', { test })
    await act(db, editor, 'test.save', { test, lock, design: { ...design, name: 'Another name' } })
    expect(tally(await load(archive))).toMatchObject({ tests: [0, 1, 0, 0] })
    expect(await act(db, editor, 'test.open', { test })).toMatchObject({ design: { name: design.name }, blocks: [] })

    // What has been put away, or was decided on, is nothing that an archive changes.
    await act(db, administrator, 'test.start', { test, lock: (await act(db, editor, 'test.open', { test })).lock })
    const files = unzipSync(archive)
    const other = strFromU8(files['site.json'] ?? new Uint8Array())
      .replaceAll(design.name, 'Well come')
      .replaceAll('Play it first', 'Play it')
    const changed = await load(zipSync({ ...files, 'site.json': strToU8(other) }))
    expect(tally(changed).why).toContain('It is no draft here any more, so it stays as it is.')
    await db('documents').where({ id: testPage.id }).update({ binned_at: new Date() })
    expect(tally(await load(zipSync({ ...files, 'site.json': strToU8(other) }))).why).toContain(
      'It lies in the bin here. Bring it back first.',
    )
  })

  test('that is damaged is refused with the file and the place, and nothing of it stays', async () => {
    await keepFile(db, pixel, { title: 'Pixel', alt: 'White', author: 'Emil' })
    const archive = unzipSync(await archived())
    await db('media').delete()
    const site = strFromU8(archive['site.json'] ?? new Uint8Array())
    const pack = (files: Record<string, Uint8Array>) => load(zipSync(files))
    const edit: Edit = { kind: 'remove', node: 'x' as NodeId }
    await expect(pack({ ...archive, 'site.json': strToU8(site.replace('"heading"', '"marquee"')) })).rejects.toThrow(
      'there is no component type “marquee”',
    )
    await expect(pack({ ...archive, 'site.json': strToU8(site.slice(0, 200)) })).rejects.toThrow(/site\.json: Line \d+/)
    await expect(pack({ 'site.json': archive['site.json'] ?? new Uint8Array() })).rejects.toThrow(
      'named in site.json but not in the archive',
    )
    await expect(pack({ [`other-${edit.kind}`]: new Uint8Array() })).rejects.toThrow(FileFault)
    await expect(load(strToU8('no zip'))).rejects.toThrow('no zip archive')
    expect((await act(db, administrator, 'media.list', {})).total).toBe(0)
  })

  test('that is small and would unpack to more than can be held, or has more in it than it says, is refused in a moment', async () => {
    const spaces = new Uint8Array(70_000_000).fill(32)
    await expect(load(zipSync({ 'site.json': spaces }, { level: 1 }))).rejects.toThrow('unpacks to more than 60 MB')
    const lying = Buffer.from(zipSync({ 'site.json': new Uint8Array(5_000_000).fill(32) }, { level: 1 }))
    // The size that the directory of the archive states: what unpacks to more is not believed.
    const directory = lying.indexOf(Buffer.from([0x50, 0x4b, 1, 2]))
    lying.writeUInt32LE(10, directory + 24)
    await expect(load(lying)).rejects.toThrow(FileFault)
  })

  test('with large films goes out and comes in whole', async () => {
    const film = (seed: number) => Buffer.concat([Buffer.from([0x1a, 0x45, 0xdf, 0xa3]), Buffer.alloc(9_000_000, seed)])
    const names: string[] = []
    for (const seed of [1]) names.push((await keepFile(db, film(seed), { title: `Film ${seed}`, alt: '', author: 'Emil' })).name)
    const bytes = await archived()
    expect(bytes.length).toBeGreaterThan(9_000_000)
    await db('media').delete()
    expect((await load(bytes)).groups).toContainEqual({ kind: 'media', new: 1, replaced: 0, same: 0, skipped: 0 })
    const kept = new Map((await readMedia(db, names)).map(({ name, body }) => [name, body]))
    expect(kept.get(names[0] ?? '')?.equals(film(1))).toBe(true)
  })

  test('with documents that show themselves, or a script of somebody else’s, is refused or approved by who loads it', async () => {
    const archive = unzipSync(await archived())
    const site = JSON.parse(strFromU8(archive['site.json'] ?? new Uint8Array())) as { documents: unknown[] }
    const circle = {
      id: 'round',
      kind: 'shared',
      root: 'r',
      nodes: {
        r: { type: 'sharedPart', props: { title: 'Round' }, children: ['cs'] },
        cs: { type: 'columns', props: {}, children: ['c'] },
        c: { type: 'column', props: {}, children: ['p'] },
        p: { type: 'shared', props: { shared: 'round' }, children: [] },
      },
    }
    site.documents.push({ draft: circle, published: null, position: 9 })
    await expect(load(zipSync({ 'site.json': strToU8(JSON.stringify(site)) }))).rejects.toThrow('“Round” shows “Round”')
  })
})
