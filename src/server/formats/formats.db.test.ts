import { zipSync, strToU8, unzipSync, strFromU8 } from 'fflate'
import type { Edit } from '@/core/document'
import { FileFault } from '@/core/formats'
import type { NodeId } from '@/core/ids'
import { inTransaction, type Database } from '../database/connect'
import { act, administrator, attempt, editor, freshDatabase, readyTest, testPage } from '../test-database'
import { readArchive, writeArchive } from './archive'
import { checkFile, keepFile } from './picture-file'

let db: Database
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
    ['a drawing that could hold a script', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'), 'no picture or film'],
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
        JSON.stringify({ format: 'upbeat-sprig', version: 1, kind: 'document', document: { ...testPage, root: 'x' } }),
        'document › nodes',
      ],
      ['opml', '<opml version="2.0"><body>', 'Line 1'],
      ['html', '<table></table>', 'nothing in this file'],
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
    expect(out.text).toContain('<outline text="Done" type="link" url="/done">')
  })
})

describe('a whole site', () => {
  test('is loaded by another instance as it was, with its pictures and its tests', async () => {
    await readyTest(db, 'Welcome')
    const { name } = await keepFile(db, pixel, { title: 'Pixel', alt: 'White', author: 'Emil' })
    const archive = await writeArchive(db)
    await db.destroy()
    db = await freshDatabase()
    const loaded = await inTransaction(db, (trx) => readArchive(trx, archive, 'Ada'))
    expect(loaded).toMatchObject({ documents: 2, versions: 1, tests: 1, media: 1 })
    const { design, blocks } = await act(db, editor, 'test.open', { test: 't-1' })
    expect([design.arms.length, blocks]).toEqual([2, []])
    expect((await act(db, editor, 'media.list', {})).lines.map((line) => line.name)).toEqual([name])
    expect((await act(db, editor, 'document.open', { document: testPage.id })).document).toEqual(testPage)
  })

  test('that is damaged is refused with the file and the place, and nothing of it stays', async () => {
    await keepFile(db, pixel, { title: 'Pixel', alt: 'White', author: 'Emil' })
    const archive = unzipSync(await writeArchive(db))
    await db('media').delete()
    const site = strFromU8(archive['site.json'] ?? new Uint8Array())
    const load = (files: Record<string, Uint8Array>) => inTransaction(db, (trx) => readArchive(trx, zipSync(files), 'Ada'))
    const edit: Edit = { kind: 'remove', node: 'x' as NodeId }
    await expect(load({ ...archive, 'site.json': strToU8(site.replace('"heading"', '"marquee"')) })).rejects.toThrow(
      'there is no component type “marquee”',
    )
    await expect(load({ ...archive, 'site.json': strToU8(site.slice(0, 200)) })).rejects.toThrow(/site\.json: Line \d+/)
    await expect(load({ 'site.json': archive['site.json'] ?? new Uint8Array() })).rejects.toThrow(
      'named in site.json but not in the archive',
    )
    await expect(load({ [`other-${edit.kind}`]: new Uint8Array() })).rejects.toThrow(FileFault)
    await expect(inTransaction(db, (trx) => readArchive(trx, strToU8('no zip'), 'Ada'))).rejects.toThrow('no zip archive')
    expect((await act(db, administrator, 'media.list', {})).total).toBe(0)
  })
})
