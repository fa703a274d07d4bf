import type { Knex } from 'knex'
import { unzipSync, zipSync, strFromU8, strToU8 } from 'fflate'
import * as z from 'zod'
import { conditionSchema } from '@/core/decide'
import { documentSchema, type ContentDocument } from '@/core/document'
import { designSchema, versionSchema } from '@/core/experiment'
import { FileFault, parseJson } from '@/core/formats'
import { goalSchema } from '@/core/goals'
import { documentIdSchema, nodeIdSchema } from '@/core/ids'
import { checkDocument } from '@/components/types'
import { jsonColumn } from '../database/json-column'
import { Failure } from '../failure'
import { createDocument, holdDocument, publishBody, readPublished, saveDraft } from '../stores/documents'
import { createGoal, listGoals } from '../stores/goals'
import { listMedia, readMedia } from '../stores/media'
import { makeRelease } from '../stores/releases'
import { indexTest, testsWhere } from '../stores/tests'
import { checkFile, keepFile } from './picture-file'

const MOST_BYTES = 400_000_000

const siteSchema = z.object({
  format: z.literal('upbeat-sprig-site'),
  version: z.literal(1),
  documents: z.array(
    z.object({ draft: documentSchema, published: documentSchema.nullable(), position: z.number().int().min(0) }),
  ),
  versions: z.array(
    versionSchema.extend({
      document: documentIdSchema,
      node: nodeIdSchema,
      manner: z.enum(['chance', 'rule']),
      condition: conditionSchema.nullable(),
      test: z.number().int().nullable(),
    }),
  ),
  tests: z.array(z.object({ number: z.number().int(), design: designSchema })),
  goals: z.array(goalSchema),
  campaigns: z.array(z.string()),
  media: z.array(z.object({ name: z.string(), title: z.string(), alt: z.string() })),
})

/**
 * A whole site as one zip: `site.json` with documents, versions, tests as drafts, goals and campaigns, and the media
 * library under `media/`. Results stay where they were counted.
 */
export async function writeArchive(db: Knex): Promise<Uint8Array> {
  const published = await readPublished(db, 'all')
  const drafts: unknown[] = await db('documents').orderBy('position').select('draft', 'position')
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
  const site: z.input<typeof siteSchema> = {
    format: 'upbeat-sprig-site',
    version: 1,
    documents: drafts
      .map((row) => draftRow.parse(row))
      .map(({ draft, position }) => ({ draft, published: published.get(draft.id) ?? null, position })),
    versions: versions
      .map((row) => versionRow.parse(row))
      .map(({ document_id: document, node_id: node, test_number: test, ...rest }) => ({ ...rest, document, node, test })),
    tests: (await testsWhere(db, (query) => void query.whereNot({ status: 'settled' }).orderBy('number'))).map(
      ({ number, design }) => ({ number, design: { ...design, arms: [...design.arms] } }),
    ),
    goals: await listGoals(db),
    campaigns: ((await db('campaigns').select('name')) as { name: string }[]).map(({ name }) => name),
    media: media.map(({ name, title, alt }) => ({ name, title, alt })),
  }
  const files: Record<string, Uint8Array> = { 'site.json': strToU8(JSON.stringify(site, null, 1)) }
  for (const { name, body } of await readMedia(
    db,
    media.map(({ name }) => name),
  ))
    files[`media/${name}`] = body
  return zipSync(files, { level: 6 })
}

/**
 * Loads a site. Documents that are here under the same id are replaced as a new revision, the rest is added; everything
 * is checked first, and it is all taken over or nothing.
 *
 * @throws {FileFault} naming the file and the place in it
 */
export async function readArchive(
  trx: Knex.Transaction,
  bytes: Uint8Array,
  author: string,
): Promise<{ documents: number; versions: number; tests: number; media: number; release: number }> {
  const { site, media } = opened(bytes)
  for (const { draft } of site.documents) await refuseTakenAddress(trx, draft, site.documents)
  for (const { name, title, alt } of site.media) {
    const body = media.get(name)
    if (body === undefined) throw new FileFault(`media/${name} is named in site.json but not in the archive.`)
    await keepFile(trx, body, { title, alt, author })
  }
  for (const goal of site.goals)
    if (!(await listGoals(trx)).some(({ id }) => id === goal.id)) await createGoal(trx, goal, author, true)
  for (const name of site.campaigns)
    await trx('campaigns').insert({ name, created_at: new Date(), created_by: author }).onConflict('name').ignore()
  for (const { draft, published, position } of site.documents) {
    const known = (await trx('documents').where({ id: draft.id }).first('id')) !== undefined
    if (known) await saveDraft(trx, await holdDocument(trx, draft.id), draft, [], author)
    else await createDocument(trx, draft, position, author)
    const { lock_version: lock } = await holdDocument(trx, draft.id)
    if (published !== null) {
      const same = JSON.stringify(published) === JSON.stringify(draft)
      await publishBody(trx, draft.id, published, { note: 'From an archive', author, lock: same ? lock : null })
    }
  }
  const numbers = new Map<number, number>()
  for (const { number, design } of site.tests) {
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
  for (const [index, version] of site.versions.entries()) {
    const { id, name, edits, document, node, manner, condition, test } = version
    if ((await trx('versions').where({ id }).first('id')) !== undefined) continue
    await trx('versions').insert({
      id,
      document_id: document,
      node_id: node,
      manner,
      name,
      edits: JSON.stringify(edits),
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

function opened(bytes: Uint8Array): { site: z.output<typeof siteSchema>; media: Map<string, Buffer> } {
  let size = 0
  const files = (() => {
    try {
      return unzipSync(bytes, {
        filter: ({ name, originalSize }) => {
          size += originalSize
          if (size > MOST_BYTES) throw new FileFault(`The archive unpacks to more than ${MOST_BYTES / 1e6} MB.`)
          return name === 'site.json' || /^media\/m-[0-9a-f]{32}$/.test(name)
        },
      })
    } catch (reason) {
      if (reason instanceof FileFault) throw reason
      throw new FileFault('This is no zip archive, or it is damaged.')
    }
  })()
  const text = files['site.json']
  if (text === undefined) throw new FileFault('site.json is not in the archive. Choose one that a site was saved to.')
  const parsed = siteSchema.safeParse(named('site.json', () => parseJson(strFromU8(text))))
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    throw new FileFault(`site.json, ${issue?.path.map(String).join(' › ') ?? ''}: ${issue?.message ?? 'not understood'}.`)
  }
  for (const [index, { draft, published }] of parsed.data.documents.entries())
    for (const document of published === null ? [draft] : [draft, published]) {
      const checked = checkDocument(document)
      if (!checked.ok) throw new FileFault(`site.json, documents › ${index} (${draft.id}): ${checked.fault}.`)
    }
  const media = new Map<string, Buffer>()
  for (const [path, body] of Object.entries(files)) {
    if (path === 'site.json') continue
    const name = path.slice('media/'.length)
    const found = named(path, () => checkFile(Buffer.from(body)))
    if (found.name !== name) throw new FileFault(`${path} is not what its name says; it may be damaged.`)
    media.set(name, Buffer.from(body))
  }
  return { site: parsed.data, media }
}

function named<Of>(path: string, read: () => Of): Of {
  try {
    return read()
  } catch (reason) {
    if (reason instanceof FileFault || reason instanceof Failure) throw new FileFault(`${path}: ${reason.message}`)
    throw reason
  }
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
