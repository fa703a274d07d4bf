import type { Knex } from 'knex'
import * as z from 'zod'
import { apply, documentSchema, editsSchema, type ContentDocument } from '@/core/document'
import { documentIdSchema, type DocumentId } from '@/core/ids'
import { referencesOf } from '@/components/references'
import { showingFault, type Showing } from '@/components/showing'
import { jsonColumn } from '../database/json-column'
import { Failure } from '../failure'

const sharedRow = z.object({ id: documentIdSchema, title: z.string(), draft: z.unknown(), body: z.unknown() })
const versionRow = z.object({ document_id: documentIdSchema, edits: jsonColumn(editsSchema) })
const bodyColumn = jsonColumn(documentSchema)

/**
 * Refuses what shows itself by way of others, or far more than could be drawn: the document as it would be, together
 * with every other as it is a draft, is published, or is in a version, since any of these can meet on a page.
 */
export async function refuseShowing(trx: Knex, bodies: readonly ContentDocument[]): Promise<void> {
  const [first] = bodies
  if (first === undefined || bodies.every((body) => referencesOf(body).length === 0)) return
  const rows: unknown[] = await trx('documents as d')
    .leftJoin('revisions as r', (on) => on.on('r.document_id', 'd.id').andOn('r.number', 'd.published_revision'))
    .where('d.kind', 'shared')
    .select('d.id', 'd.title', 'd.draft', 'r.body')
  const titles = new Map<DocumentId, string>([[first.id, titleIn(first)]])
  const forms = new Map<DocumentId, ContentDocument[]>([[first.id, [...bodies]]])
  for (const raw of rows) {
    const { id, title, draft, body } = sharedRow.parse(raw)
    titles.set(id, title)
    const [asDraft, live] = [draft, body].map((column) => bodyColumn.safeParse(column).data)
    forms.set(
      id,
      [...(id === first.id ? bodies : [asDraft]), live].filter((form) => form !== undefined),
    )
  }
  const versions: unknown[] = await trx('versions')
    .where({ settled: 0 })
    .whereIn('document_id', [...forms.keys()])
    .select('document_id', 'edits')
  for (const raw of versions) {
    const version = versionRow.safeParse(raw).data
    const [base] = version === undefined ? [] : (forms.get(version.document_id) ?? [])
    if (version !== undefined && base !== undefined) forms.get(version.document_id)?.push(apply(base, version.edits).document)
  }
  const fault = showingFault(first.id, (id) => showingOf(forms.get(id)))
  if (fault === null) return
  if (fault.code === 'tooLarge')
    throw new Failure(
      'input',
      `With all that it shows by way of shared components, “${titleIn(first)}” would have ${fault.components.toLocaleString('en')} components. Take some of them out.`,
    )
  const way = fault.way.map((id) => `“${titles.get(id) ?? id}”`)
  throw new Failure('input', `A shared component cannot show itself: ${way.join(' shows ')}. Take one of these out first.`)
}

/** The most of any of its forms, and whatever any of them shows. */
function showingOf(forms: readonly ContentDocument[] | undefined): Showing | null {
  if (forms === undefined) return null
  const each = forms.map((form) => ({
    components: Object.keys(form.nodes).length,
    shown: referencesOf(form).map(({ document }) => document),
  }))
  const [largest] = [...each].sort((one, other) => other.components + other.shown.length - one.components - one.shown.length)
  const others = new Set(each.flatMap(({ shown }) => shown))
  for (const id of largest?.shown ?? []) others.delete(id)
  return { components: largest?.components ?? 0, shown: [...(largest?.shown ?? []), ...others] }
}

function titleIn(document: ContentDocument): string {
  return String(document.nodes[document.root]?.props.title ?? document.id)
}
