import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import sharp from 'sharp'
import * as z from 'zod'
import type { NodeId, TestId } from '@/core/ids'
import type { Row } from '@/core/ledger'
import { drawPictures } from './work'
import type { Database } from '@/server/database/connect'
import { goLive } from '@/server/database/go-live'
import { recountAll } from '@/server/ledger/recount'
import { addToRows } from '@/server/ledger/rows'
import { createDocument, publishBody } from '@/server/stores/documents'
import { makeRelease, newestReleaseNumber, readRelease } from '@/server/stores/releases'
import {
  act,
  administrator,
  attempt,
  donePage,
  editor,
  freshDatabase,
  publisher,
  readyTest,
  testPage,
} from '@/server/test-database'
import { readArchive, writeArchive } from '@/server/formats/archive'
import { archivedTables } from '@/server/formats/archive-left-out'
import { keepSized } from '@/server/formats/picture-file'

let db: Database
beforeEach(async () => {
  db = await freshDatabase()
})
afterEach(() => db.destroy())

async function archived(): Promise<Uint8Array> {
  const chunks: Uint8Array[] = []
  for await (const chunk of writeArchive(db)) chunks.push(chunk)
  return Buffer.concat(chunks)
}
function load(bytes: Uint8Array) {
  const path = join(mkdtempSync(join(tmpdir(), 'archive-')), 'site.zip')
  writeFileSync(path, bytes)
  return readArchive(db, path, administrator)
}
const served = async () => (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release
const place = { document: testPage.id, node: 'front-title' as NodeId }

/** As a site is before anybody has made anything: the page that it begins with, and nothing else. */
async function emptyStart(): Promise<void> {
  await db.destroy()
  db = await freshDatabase()
  await db('uses').delete()
  await db('revisions').delete()
  await db('documents').delete()
  const begun = { ...testPage, id: 'begun' as typeof testPage.id }
  await goLive(db, async (trx) => {
    await createDocument(trx, begun, 0, 'Paula')
    await publishBody(trx, begun.id, begun, { note: '', author: 'Paula', lock: 0 })
    await makeRelease(trx, 'begun', 'Paula')
  })
}

async function settled(words: string): Promise<TestId> {
  const { test, variant } = await readyTest(db, words)
  const { lock } = await act(db, editor, 'test.open', { test })
  await act(db, publisher, 'test.start', { test, lock })
  const { design } = await act(db, editor, 'test.open', { test })
  const day = new Date().toISOString().slice(0, 10)
  const sums = (exposed: number, converters: number) => [exposed, exposed, converters, converters, 0, 0, exposed, exposed, 0]
  const rows = ['', design.primary ?? ''].flatMap((goal) =>
    (
      [
        ['original', 60],
        [variant, 110],
      ] as const
    ).map(([version, converters]): Row => ({
      book: 'tests',
      key: [`${test}-r1`, '1', goal, version, day],
      sums: sums(1000, goal === '' ? 0 : converters),
    })),
  )
  for (const at of ['', '_kept'] as const) await addToRows(db, 0, rows, at)
  await act(db, publisher, 'test.end', { test })
  await act(db, publisher, 'test.decide', { test, version: variant, reason: 'It is shorter.' })
  return test
}

/** A site with something of everything that an archive holds. */
async function everything(): Promise<TestId> {
  const { name: mark } = await keepSized(
    db,
    await sharp({ create: { width: 8, height: 8, channels: 3, background: '#123' } })
      .png()
      .toBuffer(),
    {
      ...{ title: 'Mark', alt: '', author: 'Emil' },
    },
  )
  const { identity } = await act(db, administrator, 'setting.read', {})
  await act(db, administrator, 'setting.save', {
    identity: { ...identity, name: 'Halden Music', mark, smallPrint: 'By hand' },
    attributes: [{ name: 'membership', values: ['family'] }],
    bounceSeconds: 9,
  })
  const past = await settled('Shorter')
  const { id: segment } = await act(db, editor, 'segment.create', {
    name: 'Phones',
    condition: { kind: 'device', device: 'phone' },
  })
  const rule = await act(db, editor, 'version.create', { ...place, manner: 'rule', from: null })
  await act(db, editor, 'version.save', {
    ...{ id: rule.id, lock: rule.lock, name: 'Small', condition: { kind: 'segment', segment, fits: true } },
    edits: [{ kind: 'set', node: place.node, prop: 'words', value: 'Small' }],
  })
  await act(db, publisher, 'personalization.publish', place)
  const { plan, lock } = await act(db, editor, 'personalization.read', place)
  await act(db, editor, 'personalization.plan', { ...place, lock, plan: { ...plan, holdout: 2000 } })
  await readyTest(db, 'A draft')
  await act(db, editor, 'campaign.create', { name: 'Spring' })
  // The address that a page had leads on to it.
  const open = await act(db, editor, 'document.open', { document: donePage.id })
  const moved = await act(db, editor, 'document.edit', {
    ...{ document: donePage.id, base: open.lock },
    edits: [{ kind: 'set', node: donePage.root, prop: 'path', value: '/well-done' }],
  })
  await act(db, publisher, 'document.publish', { document: donePage.id, lock: moved.lock })
  // Two ways in which a line is broken, that are the same to everybody who reads it.
  const words = { type: 'text', props: { words: '<p>One<br>two</p>' }, children: [] }
  const front = await act(db, editor, 'document.open', { document: testPage.id })
  const written = await act(db, editor, 'document.edit', {
    ...{ document: testPage.id, base: front.lock },
    edits: [
      {
        kind: 'insert',
        parent: 'front-section' as NodeId,
        after: place.node,
        tree: { root: 'w' as NodeId, nodes: { w: words } },
      },
    ],
  })
  await act(db, publisher, 'document.publish', { document: testPage.id, lock: written.lock })
  await db.raw(`UPDATE revisions SET body = REPLACE(body, '<br />', '<br>')`)
  await drawPictures(db, '/look/site.css')
  return past
}

const files = (bytes: Uint8Array) =>
  Object.fromEntries(Object.entries(unzipSync(bytes)).map(([name, body]) => [name, strFromU8(body)]))

test('what is saved, loaded into an empty start and saved again is the same; and it looks and decides as it did', async () => {
  const past = await everything()
  const before = { release: await served(), result: await act(db, editor, 'result.read', { test: past, crowd: 0 }) }
  const saved = await archived()
  expect(await archived()).toEqual(saved)

  await emptyStart()
  const report = await load(saved)
  expect(report.named.filter(({ fate }) => fate === 'skipped')).toEqual([])
  const again = files(await archived())
  const first = files(saved)
  expect(Object.keys(again).sort()).toEqual(Object.keys(first).sort())
  const withoutLeftOut = (text: string) => ({ ...(JSON.parse(text) as object), leftOut: [] })
  expect(withoutLeftOut(again['site.json'] ?? '')).toEqual(withoutLeftOut(first['site.json'] ?? ''))
  for (const name of Object.keys(first).filter((one) => one !== 'site.json'))
    expect([name, again[name]]).toEqual([name, first[name]])

  // No page is “changed”, the rules are live, and the site is called as it was.
  const { lines } = await act(db, editor, 'site.read', {})
  expect(lines.map(({ state }) => state)).toEqual(lines.map(() => 'published'))
  const now = await served()
  expect(now?.identity).toEqual(before.release?.identity)
  expect(now?.attributes).toEqual(before.release?.attributes)
  expect(now?.personalizations.map(({ rules }) => rules.map(({ condition }) => condition))).toEqual(
    before.release?.personalizations.map(({ rules }) => rules.map(({ condition }) => condition)),
  )
  expect(now?.redirects).toEqual(before.release?.redirects)
  expect(now?.documents.find(({ id }) => id === testPage.id)).toEqual(
    before.release?.documents.find(({ id }) => id === testPage.id),
  )

  // What was found out is read as it was, after everything has been counted anew as well.
  const result = () => act(db, editor, 'result.read', { test: past, crowd: 0 })
  expect(await result()).toEqual(before.result)
  await recountAll(db, () => undefined)
  expect(await result()).toEqual(before.result)
  expect((await load(saved)).release).toBeNull()
}, 120_000)

test('a settled test whose number another one has here comes in under one of its own, with its results', async () => {
  const past = await everything()
  const saved = await archived()
  const before = await act(db, editor, 'result.read', { test: past, crowd: 0 })
  await emptyStart()
  await load(saved)
  await db.destroy()
  db = await freshDatabase()
  await readyTest(db, 'Something else')
  await load(saved)
  const rows = z
    .array(z.object({ number: z.number(), status: z.string() }))
    .parse(await db('tests').orderBy('number').select('number', 'status'))
  expect(rows.map(({ status }) => status).sort()).toEqual(['draft', 'draft', 'settled'])
  const here = rows.find(({ status }) => status === 'settled')?.number
  expect(here).not.toBe(1)
  const result = await act(db, editor, 'result.read', { test: `t-${here}` as TestId, crowd: 0 })
  expect(result?.rates.map(({ exposed, converters }) => [exposed, converters])).toEqual(
    before?.rates.map(({ exposed, converters }) => [exposed, converters]),
  )
}, 120_000)

test('a history that names what is another test’s, or what is not there, is refused, and counts nothing', async () => {
  await everything()
  const good = unzipSync(await archived())
  const [entry = ''] = Object.keys(good).filter((name) => name.startsWith('history/'))
  const text = strFromU8(good[entry] ?? new Uint8Array())
  const counts = await db('tallies').count({ n: '*' }).first()
  for (const [bent, words] of [
    [text.replaceAll('"t-1-r1"', '"t-2-r1"'), 'not this test’s own'],
    [text.replace('"id":"t-1-r1"', '"id":"t-9-r1"'), 'not this test’s own'],
    [text.replaceAll(`"document":"${testPage.id}"`, '"document":"nowhere"'), 'does not name with it'],
  ] as const)
    await expect(load(zipSync({ ...good, [entry]: strToU8(bent) }))).rejects.toThrow(words)
  expect(await db('tallies').count({ n: '*' }).first()).toEqual(counts)
})

test('what is left out is named before it is saved and after it is loaded', async () => {
  await everything()
  const { leftOut } = await act(db, administrator, 'format.leftOut', {})
  expect(leftOut).toEqual(expect.arrayContaining(['People, and what they may do', 'Earlier revisions of pages']))
  expect(leftOut).not.toContain('Orders')
  expect((await attempt(db, editor, 'format.leftOut', {})).status).toBe(403)
  const saved = await archived()
  await emptyStart()
  expect((await load(saved)).leftOut).toEqual(leftOut)
})

test('every table is known to be in an archive, or not to', async () => {
  const rows: unknown[] = await db('information_schema.tables')
    .where({ table_schema: 'sprig_test' })
    .whereNot('table_name', 'like', 'begun_%')
    .select({ name: 'table_name' })
  const tables = rows.map((row) => z.object({ name: z.string() }).parse(row).name)
  expect(tables.sort()).toEqual(Object.keys(archivedTables).sort())
})
