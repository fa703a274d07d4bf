import type { Knex } from 'knex'
import { strToU8, Zip, ZipDeflate, ZipPassThrough } from 'fflate'
import * as z from 'zod'
import type { AccountView } from '@/contract/contract'
import { conditionSchema } from '@/core/decide'
import { documentSchema, type ContentDocument } from '@/core/document'
import { versionSchema } from '@/core/experiment'
import { FileFault } from '@/core/formats'
import { documentIdSchema, nodeIdSchema } from '@/core/ids'
import { codesBroughtBy, codesIn } from '@/components/scripts'
import { jsonColumn } from '../database/json-column'
import { inTransaction } from '../database/connect'
import { createDocument, holdDocument, publishBody, readPublished, saveDraft } from '../stores/documents'
import { createGoal, goalRows, listGoals, refuseParts } from '../stores/goals'
import { listMedia, readMedia } from '../stores/media'
import { makeRelease } from '../stores/releases'
import { allowScripts } from '../stores/scripts'
import { indexTest, testsWhere } from '../stores/tests'
import { checkVersion } from '../stores/versions'
import { readApart } from './apart'
import { eachMedia, type archivedSiteSchema, type ArchivedSite } from './archive-file'
import { keepFile } from './picture-file'

/**
 * A whole site as one zip: `site.json` with documents, versions, tests as drafts, goals and campaigns, and the media
 * library under `media/`, one file after the other as it is asked for. Results stay where they were counted.
 */
export async function* writeArchive(db: Knex): AsyncGenerator<Uint8Array> {
  const ready: Uint8Array[] = []
  let fault: Error | null = null
  const zip = new Zip((reason, chunk) => {
    if (reason === null) ready.push(chunk)
    else fault = reason
  })
  const written = function* () {
    if (fault !== null) throw fault
    for (let chunk = ready.shift(); chunk !== undefined; chunk = ready.shift()) yield chunk
  }
  const site = new ZipDeflate('site.json', { level: 6 })
  zip.add(site)
  site.push(strToU8(JSON.stringify(await siteOf(db), null, 1)), true)
  yield* written()
  for (const { name } of await listMedia(db, (query) => void query.orderBy('name'))) {
    const [file] = await readMedia(db, [name])
    if (file === undefined) continue
    // Pictures and films are packed already.
    const entry = new ZipPassThrough(`media/${name}`)
    zip.add(entry)
    entry.push(file.body, true)
    yield* written()
  }
  zip.end()
  yield* written()
}

async function siteOf(db: Knex): Promise<z.input<typeof archivedSiteSchema>> {
  const published = await readPublished(db, 'all')
  const drafts: unknown[] = await db('documents').whereNull('binned_at').orderBy('position').select('draft', 'position')
  const draftRow = z.object({ draft: jsonColumn(documentSchema), position: z.number() })
  const versions: unknown[] = await db('versions').where({ settled: 0 }).orderBy('position')
  const versionRow = z.object({
    id: versionSchema.shape.id,
    name: z.string(),
    edits: jsonColumn(versionSchema.shape.edits),
    document_id: documentIdSchema,
    node_id: nodeIdSchema,
    manner: z.enum(['chance', 'rule']),
    condition: jsonColumn(conditionSchema).nullable(),
    test_number: z.number().nullable(),
  })
  const media = await listMedia(db, (query) => void query.orderBy('name'))
  return {
    format: 'upbeat-sprig-site',
    version: 1,
    // One row that cannot be read costs itself, and not the archive.
    documents: drafts
      .flatMap((row) => draftRow.safeParse(row).data ?? [])
      .map(({ draft, position }) => ({ draft, published: published.get(draft.id) ?? null, position })),
    versions: versions
      .flatMap((row) => versionRow.safeParse(row).data ?? [])
      .map(({ document_id: document, node_id: node, test_number: test, ...rest }) => ({ ...rest, document, node, test })),
    tests: (await testsWhere(db, (query) => void query.whereNot({ status: 'settled' }).orderBy('number'))).map(
      ({ number, design }) => ({ number, design: { ...design, arms: [...design.arms] } }),
    ),
    goals: await listGoals(db),
    campaigns: ((await db('campaigns').select('name')) as { name: string }[]).map(({ name }) => name),
    media: media.map(({ name, title, alt }) => ({ name, title, alt })),
  }
}

export interface Loaded {
  readonly documents: number
  readonly versions: number
  readonly tests: number
  readonly media: number
  readonly release: number
}

/**
 * Loads a site. Documents that are here under the same id are replaced as a new revision, the rest is added; everything
 * is checked first, and it is all taken over or nothing.
 *
 * @throws {FileFault} naming the file and the place in it
 */
export async function readArchive(db: Knex, path: string, account: AccountView): Promise<Loaded> {
  const site = await readApart({ kind: 'archive', path })
  return inTransaction(db, (trx) => load(trx, site, path, account))
}

async function load(trx: Knex.Transaction, site: ArchivedSite, path: string, account: AccountView): Promise<Loaded> {
  const author = account.name
  for (const { draft } of site.documents) await refuseTakenAddress(trx, draft, site.documents)
  await loadMedia(trx, site, path, author)
  const known = new Set((await goalRows(trx)).map(({ id }) => id))
  const fresh = site.goals.filter(({ id }) => !known.has(id))
  await refuseParts(trx, fresh)
  for (const goal of fresh) await createGoal(trx, goal, author, true)
  for (const name of site.campaigns)
    await trx('campaigns').insert({ name, created_at: new Date(), created_by: author }).onConflict('name').ignore()
  await allowScripts(
    trx,
    account,
    site.documents.flatMap(({ draft, published }) => [...codesIn(draft), ...(published === null ? [] : codesIn(published))]),
  )
  await loadDocuments(trx, site, author)
  const numbers = await loadTests(trx, site, author)
  for (const [index, version] of site.versions.entries()) {
    const { id, name, edits, document, node, manner, condition, test } = version
    if ((await trx('versions').where({ id }).first('id')) !== undefined) continue
    await allowScripts(trx, account, codesBroughtBy(edits))
    const home = site.documents.find(({ draft }) => draft.id === document)?.draft ?? (await holdDocument(trx, document)).draft
    await trx('versions').insert({
      id,
      document_id: document,
      node_id: node,
      manner,
      name,
      edits: JSON.stringify(await checkVersion(trx, home, edits)),
      condition: condition === null ? null : JSON.stringify(condition),
      test_number: test === null ? null : (numbers.get(test) ?? null),
      position: index + 1,
      updated_at: new Date(),
      updated_by: author,
    })
  }
  return {
    documents: site.documents.length,
    versions: site.versions.length,
    tests: site.tests.length,
    media: site.media.length,
    release: await makeRelease(trx, 'loaded a site from an archive', author),
  }
}

async function loadMedia(trx: Knex.Transaction, { media }: ArchivedSite, path: string, author: string): Promise<void> {
  const wanted = new Map(media.map(({ name, title, alt }) => [name, { title, alt, author }]))
  await eachMedia(path, async (name, body) => {
    const about = wanted.get(name)
    if (about !== undefined) await keepFile(trx, body, about)
  })
}

async function loadDocuments(trx: Knex.Transaction, { documents }: ArchivedSite, author: string): Promise<void> {
  for (const { draft, published, position } of documents) {
    const known = (await trx('documents').where({ id: draft.id }).first('id')) !== undefined
    if (known) await saveDraft(trx, await holdDocument(trx, draft.id), draft, [], author)
    else await createDocument(trx, draft, position, author)
    const { lock_version: lock } = await holdDocument(trx, draft.id)
    if (published !== null) {
      const same = JSON.stringify(published) === JSON.stringify(draft)
      await publishBody(trx, draft.id, published, { note: 'From an archive', author, lock: same ? lock : null })
    }
  }
}

/** @returns the numbers of the tests here, by those in the archive */
async function loadTests(trx: Knex.Transaction, { tests }: ArchivedSite, author: string): Promise<Map<number, number>> {
  const numbers = new Map<number, number>()
  for (const { number, design } of tests) {
    const [made] = await trx('tests').insert({
      document_id: design.document,
      status: 'draft',
      name: design.name,
      design: JSON.stringify(design),
      created_at: new Date(),
      created_by: author,
    })
    if (made === undefined) throw new Error('the database gave no number for a test')
    numbers.set(number, made)
    await indexTest(trx, made, design)
  }
  return numbers
}

async function refuseTakenAddress(
  trx: Knex.Transaction,
  draft: ContentDocument,
  all: readonly { draft: ContentDocument }[],
): Promise<void> {
  const path = draft.nodes[draft.root]?.props.path
  if (draft.kind !== 'page') return
  const row: { id: string; title: string } | undefined = await trx('documents')
    .where({ path })
    .whereNot({ id: draft.id })
    .first('id', 'title')
  if (row !== undefined && !all.some((other) => other.draft.id === row.id))
    throw new FileFault(`The address ${String(path)} belongs to “${row.title}” here. Give that page another address first.`)
}
