import type { Knex } from 'knex'
import * as z from 'zod'
import {
  apply,
  collide,
  documentKinds,
  documentSchema,
  propValueSchema,
  editsSchema,
  nodeAt,
  type ContentDocument,
  type DocumentKind,
  type Edit,
} from '@/core/document'
import { documentIdSchema, nodeIdSchema, type DocumentId } from '@/core/ids'
import { shortened } from '@/core/text'
import { checkDocument, cleanEdits } from '@/components/types'
import type { LiveTransaction } from '../database/go-live'
import { jsonColumn } from '../database/json-column'
import { Failure, missing } from '../failure'
import { indexDocument } from './document-index'
import { refuseShowing } from './showing'

const rowSchema = z.object({
  id: documentIdSchema,
  kind: z.enum(documentKinds),
  title: z.string(),
  path: z.string().nullable(),
  draft: jsonColumn(documentSchema),
  lock_version: z.number(),
  published_revision: z.number().nullable(),
  published_lock: z.number().nullable(),
  updated_at: z.date(),
  updated_by: z.string(),
  binned_at: z.date().nullable(),
})
export type DocumentRow = z.infer<typeof rowSchema>

export async function readDocument(db: Knex, id: DocumentId): Promise<DocumentRow> {
  return documentIn(await db('documents').where({ id }).first())
}

/** A row that cannot be read says so; whatever else is asked for is not held up by it. */
function documentIn(row: unknown): DocumentRow {
  if (row === undefined) throw missing('What you were looking for')
  const read = rowSchema.safeParse(row)
  if (read.success) return read.data
  const title = z.object({ title: z.string() }).safeParse(row).data?.title ?? ''
  throw new Failure(
    'blocked',
    `“${title}” was kept in a form that cannot be opened (${read.error.issues[0]?.message ?? ''}). Nothing else is touched by it.`,
  )
}

const pageRow = z.object({
  id: documentIdSchema,
  title: z.string(),
  path: z.string(),
  published_revision: z.number().nullable(),
  page_type: z.string().nullable(),
})

export interface ListedPage {
  readonly id: DocumentId
  readonly title: string
  readonly path: string
  readonly pageType: string
  readonly published: boolean
}

/** Every page that is not in the bin, in the order of the site. */
export async function listPages(db: Knex): Promise<ListedPage[]> {
  const rows: unknown[] = await db('documents')
    .where({ kind: 'page', binned_at: null })
    .orderBy('position')
    .select('id', 'title', 'path', 'published_revision', 'page_type')
  return rows.map((row) => {
    const { published_revision, page_type, ...rest } = pageRow.parse(row)
    return { ...rest, pageType: page_type ?? 'Page', published: published_revision !== null }
  })
}

/** Those that are not in the bin, as they are being written. */
export async function draftsOf(db: Knex, ids: readonly DocumentId[]): Promise<Map<DocumentId, ContentDocument>> {
  const rows: unknown[] =
    ids.length === 0
      ? []
      : await db('documents')
          .whereIn('id', [...new Set(ids)])
          .whereNull('binned_at')
          .select('id', 'draft')
  return new Map((await draftsIn(db, rows)).map((draft) => [draft.id, draft]))
}

/** What is in the bin stays as it was thrown away. */
export function refuseBinned({ title, binned_at: binned }: DocumentRow): void {
  if (binned !== null) throw new Failure('missing', `“${title}” is in the bin. Bring it back first.`)
}

/** The bodies in these rows, without those that cannot be read: one bad row costs itself and nothing around it. */
function bodiesIn(rows: readonly unknown[]): ContentDocument[] {
  const schema = z.object({ body: jsonColumn(documentSchema) })
  return rows.flatMap((row) => schema.safeParse(row).data?.body ?? [])
}

/** The drafts in these rows, by their ids as well; one that cannot be read is taken as it was published. */
async function draftsIn(db: Knex, rows: readonly unknown[]): Promise<ContentDocument[]> {
  const schema = z.object({ draft: jsonColumn(documentSchema) })
  const read = rows.map((row) => schema.safeParse(row).data?.draft ?? z.object({ id: documentIdSchema }).parse(row).id)
  const spoilt = read.filter((one) => typeof one === 'string')
  const live = spoilt.length === 0 ? new Map<DocumentId, ContentDocument>() : await readPublished(db, spoilt)
  return read.flatMap((one) => (typeof one === 'string' ? (live.get(one) ?? []) : [one]))
}

/** The row, held until the transaction ends: whoever else would change it waits. */
export async function holdDocument(trx: Knex.Transaction, id: DocumentId): Promise<DocumentRow> {
  const row = documentIn(await trx('documents').where({ id }).forUpdate().first())
  refuseBinned(row)
  return row
}

const aboutRow = z.object({ id: documentIdSchema, root: nodeIdSchema, about: jsonColumn(z.record(z.string(), propValueSchema)) })

/** Menus, calls to action, shared components and styles whole, pages as their roots alone: what looks and link fields need. */
export async function readSurroundings(db: Knex): Promise<ContentDocument[]> {
  const wholes: unknown[] = await db('documents')
    .whereIn('kind', ['menu', 'callToAction', 'shared', 'style'])
    .whereNull('binned_at')
    .orderBy([{ column: 'kind' }, { column: 'position' }])
    .select('id', 'draft')
  const pages: unknown[] = await db('documents')
    .where({ kind: 'page', binned_at: null })
    .orderBy('position')
    .select('id', 'about', db.raw("JSON_VALUE(draft, '$.root') AS root"))
  return [
    ...(await draftsIn(db, wholes)),
    ...pages.flatMap((row): ContentDocument[] => {
      const read = aboutRow.safeParse(row)
      if (!read.success) return []
      const { id, root, about } = read.data
      return [{ id, kind: 'page', root, nodes: { [root]: { type: 'page', props: about, children: [] } } }]
    }),
  ]
}

export async function listDocumentsOfKind(db: Knex, kind: DocumentKind): Promise<ContentDocument[]> {
  const rows: unknown[] = await db('documents').where({ kind, binned_at: null }).orderBy('position').select('id', 'draft')
  return draftsIn(db, rows)
}

const published = (db: Knex) =>
  db('documents as d')
    .join('revisions as r', (on) => on.on('r.document_id', 'd.id').andOn('r.number', 'd.published_revision'))
    .orderBy([{ column: 'd.kind' }, { column: 'd.position' }])

export async function readPublished(db: Knex, ids: readonly DocumentId[] | 'all'): Promise<Map<DocumentId, ContentDocument>> {
  const query = published(db).select('r.body')
  const rows: unknown[] = ids === 'all' ? await query : await query.whereIn('d.id', ids)
  return new Map(bodiesIn(rows).map((body) => [body.id, body]))
}

/** All that is published, and what of it was kept in a form that cannot be read, and why. */
export async function readAllPublished(
  db: Knex,
): Promise<{ documents: ContentDocument[]; unread: { id: DocumentId; words: string }[] }> {
  const rows: unknown[] = await published(db).select('d.id', 'r.body')
  const schema = z.object({ body: jsonColumn(documentSchema) })
  const documents: ContentDocument[] = []
  const unread: { id: DocumentId; words: string }[] = []
  for (const row of rows) {
    const read = schema.safeParse(row)
    if (read.success) documents.push(read.data.body)
    else {
      const words = `its published revision cannot be read: ${read.error.issues[0]?.message ?? 'not understood'}`
      unread.push({ id: z.object({ id: documentIdSchema }).parse(row).id, words: shortened(words, 300) })
    }
  }
  return { documents, unread }
}

export async function createDocument(
  trx: Knex.Transaction,
  document: ContentDocument,
  position: number,
  author: string,
): Promise<void> {
  const checked = checkDocument(document)
  if (!checked.ok) throw new Failure('input', `“${listedIn(document).title}” cannot be kept: ${checked.fault}.`)
  await refuseShowing(trx, [checked.document])
  await trx('documents').insert({
    id: document.id,
    kind: document.kind,
    ...listedIn(checked.document),
    draft: JSON.stringify(checked.document),
    position,
    updated_at: new Date(),
    updated_by: author,
  })
  await indexDocument(trx, checked.document)
}

/**
 * Puts edits made on an earlier draft onto the present one. Where somebody else saved in between, edits that touch
 * nothing of theirs are merged; the rest is refused whole, and the other's work stays.
 */
export async function editDraft(
  trx: Knex.Transaction,
  id: DocumentId,
  { base, edits, save }: { base: number; edits: readonly Edit[]; save: string | null },
  author: string,
): Promise<{ lock: number; document: ContentDocument; merged: boolean }> {
  const row = await holdDocument(trx, id)
  // Sent again, as its answer was lost: it is there already.
  if (save !== null && (await trx('draft_steps').where({ document_id: id, save }).first('lock_version')) !== undefined)
    return { lock: row.lock_version, document: row.draft, merged: true }
  if (base > row.lock_version)
    throw new Failure('input', 'This save is based on a draft that does not exist. Open the page again.')
  if (base < row.lock_version) await refuseCollision(trx, row, base, edits)
  const { document, refused } = apply(row.draft, cleanEdits(row.draft, edits))
  if (refused.length > 0)
    throw new Failure(
      'conflict',
      `A component you changed was removed by ${row.updated_by} in the meantime. Open the page again to see it as it is now.`,
    )
  const lock = await saveDraft(trx, row, document, edits, author, save)
  return { lock, document, merged: base < row.lock_version }
}

async function refuseCollision(trx: Knex.Transaction, row: DocumentRow, base: number, edits: readonly Edit[]): Promise<void> {
  const steps: unknown[] = await trx('draft_steps')
    .where({ document_id: row.id })
    .where('lock_version', '>', base)
    .orderBy('lock_version')
  const theirs = steps.map((step) => z.object({ edits: jsonColumn(editsSchema), author: z.string() }).parse(step))
  const complete = theirs.length === row.lock_version - base
  const hit = theirs.find((step) => collide(row.draft, edits, step.edits))
  if (complete && hit === undefined) return
  throw new Failure(
    'conflict',
    `${hit?.author ?? row.updated_by} changed the same part while you did. Your change was not saved over it: open the page again, look, and decide which to keep.`,
  )
}

/** Writes the next draft after the checks that every document must pass. */
export async function saveDraft(
  trx: Knex.Transaction,
  row: DocumentRow,
  document: ContentDocument,
  edits: readonly Edit[],
  author: string,
  save: string | null = null,
): Promise<number> {
  const checked = checkDocument(document)
  if (!checked.ok) throw new Failure('input', `This change cannot be kept: ${checked.fault}.`)
  const lock = row.lock_version + 1
  const at = new Date()
  const { title, path } = listedIn(checked.document)
  await refuseShowing(trx, [checked.document])
  if (path !== null && (await trx('documents').where({ path }).whereNot({ id: row.id }).first('id')) !== undefined) {
    throw new Failure('input', `Another page already has the address ${path}. Choose another one.`)
  }
  await trx('documents')
    .where({ id: row.id })
    .update({
      title,
      path,
      draft: JSON.stringify(checked.document),
      lock_version: lock,
      updated_at: at,
      updated_by: author,
    })
  await indexDocument(trx, checked.document)
  await trx('draft_steps').insert({ document_id: row.id, lock_version: lock, edits: JSON.stringify(edits), author, at, save })
  return lock
}

/** What lists say of a document. */
export function listedIn(document: ContentDocument): { title: string; path: string | null } {
  const { title, path } = nodeAt(document, document.root).props
  return {
    title: shortened(String(title ?? document.id), 300),
    path: document.kind === 'page' ? String(path ?? `/${document.id}`) : null,
  }
}

/** Two pages cannot answer at one address, whatever their drafts say. */
async function refuseTakenAddress(trx: Knex.Transaction, id: DocumentId, path: string | null): Promise<void> {
  if (path === null) return
  const other: unknown = await trx('documents').where({ published_path: path }).whereNot({ id }).first('title')
  if (other !== undefined)
    throw new Failure(
      'input',
      `“${z.object({ title: z.string() }).parse(other).title}” is published at ${path}. Publish it at its new address first, or choose another one here.`,
    )
}

/** Makes a body the published revision. Without a lock the draft stays “changed” as it was. */
export async function publishBody(
  trx: LiveTransaction,
  id: DocumentId,
  body: ContentDocument,
  about: { note: string; author: string; lock: number | null },
): Promise<number> {
  const last = z
    .object({ number: z.number().nullable() })
    .parse(await trx('revisions').where({ document_id: id }).max({ number: 'number' }).first())
  const number = (last.number ?? 0) + 1
  const checked = checkDocument(body)
  if (!checked.ok) throw new Failure('input', `“${listedIn(body).title}” cannot be published: ${checked.fault}.`)
  const { path } = listedIn(body)
  await refuseTakenAddress(trx, id, path)
  await refuseShowing(trx, [body])
  await keepOldAddress(trx, id, body)
  await trx('revisions').insert({
    document_id: id,
    number,
    body: JSON.stringify(body),
    note: about.note,
    author: about.author,
    at: new Date(),
  })
  await trx('documents')
    .where({ id })
    .update({ published_revision: number, published_path: path, ...(about.lock === null ? {} : { published_lock: about.lock }) })
  return number
}

/** Where a published page moves to another address, the old one leads on to it; an address that is taken again does not. */
async function keepOldAddress(trx: Knex.Transaction, id: DocumentId, body: ContentDocument): Promise<void> {
  if (body.kind !== 'page') return
  const before = (await readPublished(trx, [id])).get(id)
  const [was, is] = [before, body].map((page) => (page === undefined ? null : listedIn(page).path))
  if (is != null) await trx('redirects').where({ path: is }).delete()
  if (was == null || was === is) return
  await trx('redirects').insert({ path: was, document_id: id, at: new Date() }).onConflict('path').merge()
}

const redirectRow = z.object({ path: z.string(), document_id: documentIdSchema })
export async function listRedirects(db: Knex): Promise<{ from: string; document: DocumentId }[]> {
  const rows: unknown[] = await db('redirects').orderBy('path').select('path', 'document_id')
  return rows
    .flatMap((row) => redirectRow.safeParse(row).data ?? [])
    .map(({ path, document_id }) => ({ from: path, document: document_id }))
}

/** What was published of a document at a moment; `null` where nothing was. */
export async function publishedAt(db: Knex, id: DocumentId, at: Date): Promise<ContentDocument | null> {
  const row: unknown = await db('revisions')
    .where({ document_id: id })
    .where('at', '<=', at)
    .orderBy('number', 'desc')
    .first('body')
  return row === undefined ? null : z.object({ body: jsonColumn(documentSchema) }).parse(row).body
}

/** As it was published first; `null` where it never was. */
export async function firstPublished(db: Knex, id: DocumentId): Promise<ContentDocument | null> {
  const row: unknown = await db('revisions').where({ document_id: id }).orderBy('number').first('body')
  return row === undefined ? null : z.object({ body: jsonColumn(documentSchema) }).parse(row).body
}

export async function readRevision(db: Knex, id: DocumentId, number: number): Promise<ContentDocument> {
  const row: unknown = await db('revisions').where({ document_id: id, number }).first('body')
  if (row === undefined) throw missing(`Revision ${number}`)
  return z.object({ body: jsonColumn(documentSchema) }).parse(row).body
}

const revisionRow = z.object({ number: z.number(), note: z.string(), author: z.string(), at: z.date() })
export async function listRevisions(db: Knex, id: DocumentId, limit: number): Promise<z.infer<typeof revisionRow>[]> {
  const rows: unknown[] = await db('revisions')
    .where({ document_id: id })
    .orderBy('number', 'desc')
    .limit(limit)
    .select('number', 'note', 'author', 'at')
  return rows.map((row) => revisionRow.parse(row))
}

export function stateOf(
  row: Pick<DocumentRow, 'published_revision' | 'published_lock' | 'lock_version'>,
): 'draft' | 'published' | 'changed' {
  if (row.published_revision === null) return 'draft'
  return row.published_lock === row.lock_version ? 'published' : 'changed'
}
