import type { Knex } from 'knex'
import * as z from 'zod'
import { documentKinds, nodeAt, type ContentDocument } from '@/core/document'
import { documentIdSchema, type DocumentId } from '@/core/ids'
import { linksOf, mediaOf, referencesOf } from '@/components/references'

/** Keeps what lists and “where used” ask of a document beside it; written whenever its draft is. */
export async function indexDocument(trx: Knex, document: ContentDocument): Promise<void> {
  const { props } = nodeAt(document, document.root)
  await trx('documents')
    .where({ id: document.id })
    .update({
      about: JSON.stringify(props),
      page_type: document.kind === 'page' ? String(props.pageType ?? 'Page').slice(0, 120) : '',
      campaign: String(props.campaign ?? '').slice(0, 120),
    })
  await trx('uses').where({ document_id: document.id }).delete()
  const shown = [...new Set([...referencesOf(document).map(({ document: used }) => used as string), ...mediaOf(document)])]
  const rows = [
    ...shown.map((used) => ({ used_id: used, document_id: document.id, how: 'shows' })),
    ...linksOf(document).map((used) => ({ used_id: used, document_id: document.id, how: 'links' })),
  ]
  if (rows.length > 0) await trx('uses').insert(rows)
}

const placeRow = z.object({
  used_id: z.string(),
  id: documentIdSchema,
  kind: z.enum(documentKinds),
  title: z.string(),
  path: z.string().nullable(),
  published_revision: z.number().nullable(),
})
export type PlaceRow = z.infer<typeof placeRow>

/** The documents that show one of these, or link to it, by title. */
export async function placesOf(db: Knex, used: readonly string[], how: 'shows' | 'links'): Promise<PlaceRow[]> {
  if (used.length === 0) return []
  const rows: unknown[] = await db('uses as u')
    .join('documents as d', 'd.id', 'u.document_id')
    .whereIn('u.used_id', used)
    .where('u.how', how)
    .whereNull('d.binned_at')
    .orderBy('d.title')
    .select('u.used_id', 'd.id', 'd.kind', 'd.title', 'd.path', 'd.published_revision')
  return rows.map((row) => placeRow.parse(row))
}

/** The published pages on which a document is shown, directly or inside a shared component. */
export async function pagesShowing(db: Knex, document: DocumentId): Promise<PlaceRow[]> {
  const pages = new Map<string, PlaceRow>()
  const met = new Set<DocumentId>([document])
  for (let waiting = [document]; waiting.length > 0;) {
    const found = await placesOf(db, waiting, 'shows')
    for (const place of found) if (place.kind === 'page' && place.published_revision !== null) pages.set(place.id, place)
    waiting = found.filter(({ id, kind }) => kind === 'shared' && !met.has(id)).map(({ id }) => id)
    for (const id of waiting) met.add(id)
  }
  return [...pages.values()]
}
