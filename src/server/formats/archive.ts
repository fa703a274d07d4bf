import { isSameData } from '@/core/same-data'
import type { Knex } from 'knex'
import { strToU8, Zip, ZipDeflate, ZipPassThrough } from 'fflate'
import * as z from 'zod'
import type { AccountView } from '@/contract/contract'
import type { ArchiveReport } from '@/contract/contract'
import { conditionSchema } from '@/core/decide'
import { documentSchema } from '@/core/document'
import { partsOf, versionSchema } from '@/core/experiment'
import { documentIdSchema, nodeIdSchema } from '@/core/ids'
import { codesBroughtBy, codesIn } from '@/components/scripts'
import { restingOn } from '../actions/resting'
import { jsonColumn } from '../database/json-column'
import { inTransaction } from '../database/connect'
import { createDocument, holdDocument, publishBody, readPublished, saveDraft } from '../stores/documents'
import { createGoal, goalRows, listGoals, refuseParts } from '../stores/goals'
import { listMedia, readMedia } from '../stores/media'
import { goLive, type LiveTransaction } from '../database/go-live'
import { makeRelease } from '../stores/releases'
import { allowScripts } from '../stores/scripts'
import { segmentsNow, takeSegments } from '../stores/segments'
import { indexTest, testsTouching, testsWhere } from '../stores/tests'
import { checkVersion } from '../stores/versions'
import { readApart } from './apart'
import { eachMedia, type archivedSiteSchema, type ArchivedSite } from './archive-file'
import { planOf, reportOf, type Here, type Plan, type Planned } from './archive-plan'
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

const draftRow = z.object({ draft: jsonColumn(documentSchema), position: z.number() })
const documentHere = z.object({ id: documentIdSchema, draft: jsonColumn(documentSchema), binned_at: z.date().nullable() })
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

async function siteOf(db: Knex): Promise<z.input<typeof archivedSiteSchema>> {
  const published = await readPublished(db, 'all')
  const drafts: unknown[] = await db('documents').whereNull('binned_at').orderBy('position').select('draft', 'position')
  const versions: unknown[] = await db('versions').where({ settled: 0 }).orderBy('position')
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
    segments: await segmentsNow(db),
    goals: await listGoals(db),
    campaigns: ((await db('campaigns').whereNull('binned_at').select('name')) as { name: string }[]).map(({ name }) => name),
    media: media.map(({ name, title, alt }) => ({ name, title, alt })),
  }
}

/**
 * Loads a site, as {@link planOf} says: everything is checked first, and it is all taken over or nothing.
 *
 * @returns what was done; `release` is `null` where there was nothing to do
 * @throws {FileFault} naming the file and the place in it
 */
export async function readArchive(db: Knex, path: string, account: AccountView): Promise<ArchiveReport> {
  const site = await readApart({ kind: 'archive', path })
  return goLive(db, async (trx) => {
    const plan = planOf(site, await hereOf(trx, site))
    const idle = Object.values(plan).every((things: readonly Planned<unknown>[]) =>
      things.every(({ fate }) => fate === 'same' || fate === 'skipped'),
    )
    return reportOf(plan, idle ? null : await load(trx, plan, path, account))
  })
}

/** What loading this would do; nothing is changed by asking. */
export async function lookAtArchive(db: Knex, path: string): Promise<ArchiveReport> {
  const site = await readApart({ kind: 'archive', path })
  return inTransaction(db, async (trx) => reportOf(planOf(site, await hereOf(trx, site)), null))
}

/** What of it is to be written. */
function wanted<Of extends Planned<unknown>>(things: readonly Of[]): Of[] {
  return things.filter(({ fate }) => fate === 'new' || fate === 'replaced')
}

async function load(trx: LiveTransaction, plan: Plan, path: string, account: AccountView): Promise<number> {
  const author = account.name
  await loadMedia(trx, plan, path, author)
  const goals = wanted(plan.goals).map(({ thing }) => thing)
  await refuseParts(trx, goals)
  for (const goal of goals) await createGoal(trx, goal, author, true)
  for (const { thing: name } of wanted(plan.campaigns))
    await trx('campaigns')
      .insert({ name, created_at: new Date(), created_by: author })
      .onConflict('name')
      .merge({ binned_at: null, binned_by: null })
  const documents = wanted(plan.documents).map(({ thing }) => thing)
  await allowScripts(
    trx,
    account,
    documents.flatMap(({ draft, published }) => [...codesIn(draft), ...(published === null ? [] : codesIn(published))]),
  )
  await loadDocuments(trx, documents, author)
  await takeSegments(
    trx,
    wanted(plan.segments).map(({ thing }) => thing),
    { by: author, keepIds: true },
  )
  const numbers = await loadTests(trx, plan, author)
  await loadVersions(trx, plan, numbers, account)
  return makeRelease(trx, 'loaded a site from an archive', author)
}

async function loadMedia(trx: Knex.Transaction, plan: Plan, path: string, author: string): Promise<void> {
  const names = new Map(wanted(plan.media).map(({ thing: { name, title, alt } }) => [name, { title, alt, author }]))
  if (names.size === 0) return
  await eachMedia(path, async (name, body) => {
    const about = names.get(name)
    if (about !== undefined) await keepFile(trx, body, about)
  })
}

async function loadDocuments(trx: LiveTransaction, documents: ArchivedSite['documents'], author: string): Promise<void> {
  for (const { draft, published, position } of documents) {
    const known = (await trx('documents').where({ id: draft.id }).first('id')) !== undefined
    if (known) await saveDraft(trx, await holdDocument(trx, draft.id), draft, [], author)
    else await createDocument(trx, draft, position, author)
    const { lock_version: lock } = await holdDocument(trx, draft.id)
    if (published !== null) {
      const same = isSameData(published, draft)
      await publishBody(trx, draft.id, published, { note: 'From an archive', author, lock: same ? lock : null })
    }
  }
}

/** @returns the numbers of the tests here, by those in the archive */
async function loadTests(trx: Knex.Transaction, { tests }: Plan, author: string): Promise<Map<number, number>> {
  const numbers = new Map<number, number>()
  for (const { thing, fate, here } of tests) {
    const { number, design } = thing
    if (here !== null) numbers.set(number, here.number)
    if (fate === 'replaced' && here !== null) {
      await trx('tests')
        .where({ number: here.number })
        .update({ name: design.name, document_id: design.document, design: JSON.stringify(design), lock_version: here.lock + 1 })
      await trx('versions').where({ test_number: here.number }).delete()
      await indexTest(trx, here.number, design)
    }
    if (fate !== 'new') continue
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

async function loadVersions(
  trx: Knex.Transaction,
  plan: Plan,
  numbers: ReadonlyMap<number, number>,
  account: AccountView,
): Promise<void> {
  const written = new Map(wanted(plan.documents).map(({ thing }) => [thing.draft.id, thing.draft]))
  for (const [index, { thing }] of wanted(plan.versions).entries()) {
    const { id, name, edits, document, node, manner, condition, test } = thing
    await allowScripts(trx, account, codesBroughtBy(edits))
    const home = written.get(document) ?? (await holdDocument(trx, document)).draft
    const row = {
      document_id: document,
      node_id: node,
      manner,
      name,
      edits: JSON.stringify(await checkVersion(trx, home, edits)),
      condition: condition === null ? null : JSON.stringify(condition),
      test_number: test === null ? null : (numbers.get(test) ?? null),
      position: index + 1,
      updated_at: new Date(),
      updated_by: account.name,
    }
    await trx('versions')
      .insert({ id, ...row })
      .onConflict('id')
      .merge()
  }
}

const versionHere = versionRow.pick({ id: true, name: true, edits: true, condition: true, test_number: true })

/** What is here of what the archive has; documents that would be changed are held until it is done. */
async function hereOf(trx: Knex.Transaction, site: ArchivedSite): Promise<Here> {
  const ids = site.documents.map(({ draft }) => draft.id)
  const published = await readPublished(trx, ids)
  const rows: unknown[] = await trx('documents').whereIn('id', ids).forUpdate().select('id', 'draft', 'binned_at')
  const documents = new Map(
    rows.map((row) => {
      const { id, draft, binned_at: binned } = documentHere.parse(row)
      return [id as string, { draft, published: published.get(id) ?? null, binned: binned !== null }]
    }),
  )
  const tests = await testsTouching(trx, [
    ...new Set(site.tests.flatMap(({ design }) => partsOf(design).map(({ document }) => document))),
  ])
  const versions: unknown[] = await trx('versions')
    .whereIn(
      'id',
      site.versions.map(({ id }) => id),
    )
    .orWhereIn(
      'test_number',
      tests.map(({ number }) => number),
    )
  const paths: { path: string; title: string }[] = await trx('documents')
    .whereNotNull('path')
    .whereNotIn('id', ids)
    .select('path', 'title')
  const restingNames = new Map<string, readonly string[]>()
  for (const { draft, published: body } of site.documents)
    // Asked only of what would be published anew: each time all running tests are looked at.
    if (body !== null && documents.has(draft.id) && !isSameData(published.get(draft.id), body))
      restingNames.set(
        draft.id,
        (await restingOn(trx, published.get(draft.id), body)).map(({ row }) => row.name),
      )
  return {
    documents,
    addresses: new Map(paths.map(({ path, title }) => [path, title])),
    restingOn: restingNames,
    tests: tests.map(({ number, status, design, lock_version: lock }) => ({ number, status, design, lock })),
    versions: new Map(
      versions.map((row) => {
        const { id, test_number: test, ...rest } = versionHere.parse(row)
        return [id as string, { ...rest, test }]
      }),
    ),
    segments: await segmentsNow(trx),
    goals: new Map((await goalRows(trx)).map(({ body }) => [body.id, body])),
    campaigns: new Set(
      ((await trx('campaigns').whereNull('binned_at').select('name')) as { name: string }[]).map(({ name }) => name),
    ),
    media: new Set((await listMedia(trx, () => undefined)).map(({ name }) => name)),
  }
}
