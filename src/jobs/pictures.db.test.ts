import sharp from 'sharp'
import type { NodeId } from '@/core/ids'
import type { Database } from '@/server/database/connect'
import { keepFile, keepSized } from '@/server/formats/picture-file'
import { readServed } from '@/server/stores/media'
import { newestReleaseNumber, readRelease } from '@/server/stores/releases'
import { act, editor, freshDatabase, publisher, testPage } from '@/server/test-database'
import { compile } from '@/site/compile/compile'
import { sizePictures } from './pictures'

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

const about = { title: 'A', alt: 'x', author: 'Emil' }
const photo = () =>
  sharp({ create: { width: 1500, height: 1000, channels: 3, background: '#654' } })
    .jpeg()
    .toBuffer()
const never = (reason: unknown) => {
  throw reason
}

async function shown(picture: string): Promise<string> {
  const open = await act(db, editor, 'document.open', { document: testPage.id })
  const tree = { root: 'new' as NodeId, nodes: { new: { type: 'picture', props: { picture, alt: 'x' }, children: [] } } }
  const edited = await act(db, editor, 'document.edit', {
    ...{ document: testPage.id, base: open.lock },
    edits: [{ kind: 'insert', parent: 'front-section' as NodeId, after: 'front-title' as NodeId, tree }],
  })
  await act(db, publisher, 'document.publish', { document: testPage.id, lock: edited.lock })
  return page()
}
async function page(): Promise<string> {
  const read = await readRelease(db, (await newestReleaseNumber(db)) ?? 0)
  if (read === null) throw new Error('no release')
  const assets = { script: '/s.js', style: '/s.css', origin: 'http://site.test' }
  return compile(read.release, assets).pages.get('/')?.chunks.map(String).join('') ?? ''
}

test('a picture that is brought is there at once in its widths, and pages say them with its true size', async () => {
  const { name } = await keepSized(db, await photo(), about)
  const html = await shown(name)
  expect(html).toContain(`src="/media/${name}"`)
  expect(html).toMatch(new RegExp(`srcSet="/media/${name}\\?w=320 320w, .*\\?w=1500 1500w"`, 'i'))
  expect(html).toContain('width="1500" height="1000"')
  const [file] = await readServed(db, [name])
  // What the camera made is not among what is sent.
  expect(file).toMatchObject({ whole: null, ready: true })
  expect(await sizePictures(db, never)).toBe(false)
})

test('one that came without its widths gets them, and the page that shows it goes live with them', async () => {
  const { name } = await keepFile(db, await photo(), about)
  expect(await shown(name)).not.toContain('srcset')
  const before = await newestReleaseNumber(db)
  await sizePictures(db, never)
  expect(await newestReleaseNumber(db)).toBe((before ?? 0) + 1)
  expect(await page()).toMatch(/srcset=/i)
  await sizePictures(db, never)
  expect(await newestReleaseNumber(db)).toBe((before ?? 0) + 1)
})

test('one that cannot be read to its end holds up no other', async () => {
  const broken = (await photo()).subarray(0, 700)
  await keepFile(db, broken, about)
  const { name } = await keepFile(db, await photo(), about)
  const faults: unknown[] = []
  await sizePictures(db, (reason) => void faults.push(reason))
  expect(faults).toMatchObject([{ message: expect.stringContaining('damaged') }])
  expect((await readServed(db, [name]))[0]?.sizes.length).toBeGreaterThan(4)
  expect(await db('media').whereNull('sized_at')).toEqual([])
})
