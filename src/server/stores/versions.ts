import type { Knex } from 'knex'
import * as z from 'zod'
import type { VersionView } from '@/contract/contract'
import { conditionSchema, EVERYBODY } from '@/core/decide'
import { apply, editsSchema, type ContentDocument, type Edit } from '@/core/document'
import { checkDocument, cleanEdits } from '@/components/types'
import { documentIdSchema, nodeIdSchema, versionIdSchema, type DocumentId, type NodeId, type VersionId } from '@/core/ids'
import { personalizationSchema, type Personalization } from '@/core/experiment'
import type { LiveTransaction } from '../database/go-live'
import { jsonColumn } from '../database/json-column'
import { Failure, missing } from '../failure'
import { refuseShowing } from './showing'
import { testId } from './tests'

const rowSchema = z.object({
  id: versionIdSchema,
  document_id: documentIdSchema,
  node_id: nodeIdSchema,
  manner: z.enum(['chance', 'rule']),
  test_number: z.number().nullable(),
  name: z.string(),
  edits: jsonColumn(editsSchema),
  condition: jsonColumn(conditionSchema).nullable(),
  position: z.number(),
  settled: z.coerce.boolean(),
  lock_version: z.number(),
})
export type VersionRow = z.infer<typeof rowSchema>

export async function listVersions(db: Knex, document: DocumentId): Promise<VersionRow[]> {
  const rows: unknown[] = await db('versions')
    .where({ document_id: document, settled: 0 })
    .orderBy([{ column: 'node_id' }, { column: 'position' }])
  return rows.map((row) => rowSchema.parse(row))
}

/** Every version for some visitors that is on a page or elsewhere, in the order of its part’s rules. */
export async function allRules(db: Knex): Promise<VersionRow[]> {
  const rows: unknown[] = await db('versions')
    .where({ manner: 'rule', settled: 0 })
    .orderBy(['document_id', 'node_id', 'position'])
    .limit(2000)
  return rows.map((row) => rowSchema.parse(row))
}

export async function versionsOfTest(db: Knex, number: number): Promise<VersionRow[]> {
  return (await versionsOfTests(db, [number])).get(number) ?? []
}

/** The versions of each of these tests, by its number. */
export async function versionsOfTests(db: Knex, numbers: readonly number[]): Promise<Map<number, VersionRow[]>> {
  const rows: unknown[] = numbers.length === 0 ? [] : await db('versions').whereIn('test_number', numbers).orderBy('position')
  const found = new Map<number, VersionRow[]>()
  for (const row of rows) {
    const version = rowSchema.parse(row)
    const { test_number: number } = version
    if (number !== null) found.set(number, [...(found.get(number) ?? []), version])
  }
  return found
}

export async function holdVersion(trx: Knex.Transaction, id: VersionId): Promise<VersionRow> {
  const row: unknown = await trx('versions').where({ id }).forUpdate().first()
  if (row === undefined) throw missing('This version')
  return rowSchema.parse(row)
}

export function versionView(row: VersionRow): VersionView {
  const { id, name, edits, manner, condition, lock_version: lock } = row
  return {
    id,
    name,
    edits,
    node: row.node_id,
    manner,
    condition,
    lock,
    test: row.test_number === null ? null : testId(row.test_number),
  }
}

/**
 * A version is judged by what it shows: the document with its edits must be one that could be kept itself. Edits that do
 * not fit the document any more show nothing and are kept as they are.
 *
 * @returns the edits as they may be kept, rich text sanitised
 */
export async function checkVersion(trx: Knex, document: ContentDocument, edits: readonly Edit[]): Promise<Edit[]> {
  const read = editsSchema.safeParse(edits)
  if (!read.success)
    throw new Failure('input', `This version cannot be kept: ${read.error.issues[0]?.message ?? 'not understood'}.`)
  const clean = cleanEdits(document, read.data)
  const shown = apply(document, clean).document
  const checked = checkDocument(shown)
  if (!checked.ok) throw new Failure('input', `This version cannot be kept: ${checked.fault}.`)
  await refuseShowing(trx, [shown, document])
  return clean
}

const personalizationRow = z.object({ published: jsonColumn(personalizationSchema) })

export async function livePersonalizations(db: Knex, document?: DocumentId): Promise<Personalization[]> {
  const query = db('personalizations').orderBy('id').select('published')
  const rows: unknown[] = document === undefined ? await query : await query.where({ document_id: document })
  return rows.map((row) => personalizationRow.parse(row).published)
}

/** The rules of a part as they stand on its shelf, in their order. */
export function rulesOn(
  versions: readonly VersionRow[],
  node: NodeId,
): Pick<Personalization['rules'][number], 'version' | 'condition'>[] {
  return versions
    .filter((version) => version.node_id === node && version.manner === 'rule')
    .map(({ id, name, edits, condition }) => ({ version: { id, name, edits }, condition: condition ?? EVERYBODY }))
}

export async function writePersonalization(trx: LiveTransaction, body: Personalization, author: string): Promise<void> {
  await trx('personalizations')
    .insert({
      ...{ id: body.id, document_id: body.document, published: JSON.stringify(personalizationSchema.parse(body)) },
      ...{ published_at: new Date(), published_by: author },
    })
    .onConflict('id')
    .merge()
}

export function personalizationId(document: DocumentId, node: NodeId): string {
  return `${document}.${node}`
}
