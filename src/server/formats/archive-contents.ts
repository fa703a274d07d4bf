import type { Knex } from 'knex'
import * as z from 'zod'
import { takenOffSchema } from '@/contract/contract'
import { conditionSchema } from '@/core/decide'
import { documentSchema, type ContentDocument } from '@/core/document'
import { gainPlanSchema, partsOf, versionSchema, type Personalization } from '@/core/experiment'
import { documentIdSchema, nodeIdSchema, type DocumentId } from '@/core/ids'
import { pageAddressSchema } from '@/core/page-address'
import { isSameData } from '@/core/same-data'
import { checkDocument } from '@/components/types'
import { jsonColumn } from '../database/json-column'
import { listRedirects, readPublished } from '../stores/documents'
import { goalRows } from '../stores/goals'
import { listMedia } from '../stores/media'
import { segmentsNow } from '../stores/segments'
import { readSettings } from '../stores/settings'
import { testsWhere, type TestRow } from '../stores/tests'
import { livePersonalizations } from '../stores/versions'
import { historyIn } from './archive-history'
import { leftOutNow } from './archive-left-out'
import { archivedSettingsSchema, archivedSiteSchema, type ArchivedSite } from './archived-site'

const draftRow = z.object({ draft: jsonColumn(documentSchema), position: z.number() })
export const versionRow = z.object({
  id: versionSchema.shape.id,
  name: z.string(),
  edits: jsonColumn(versionSchema.shape.edits),
  document_id: documentIdSchema,
  node_id: nodeIdSchema,
  manner: z.enum(['chance', 'rule']),
  condition: jsonColumn(conditionSchema).nullable(),
  test_number: z.number().nullable(),
})
const planRow = z.object({ personalization: z.string(), document_id: documentIdSchema, plan: jsonColumn(gainPlanSchema) })
const takenOffRow = z.object({ id: z.string(), name: z.string(), body: jsonColumn(takenOffSchema), at: z.date() })

/** All that an archive says of a site in `site.json`, each list in an order of its own, and the settled tests beside it. */
export async function contentsOf(db: Knex): Promise<{ readonly site: ArchivedSite; readonly history: readonly TestRow[] }> {
  const documents = await documentsOf(db)
  const ids = new Set(documents.map(({ draft }) => draft.id))
  const history = await historyIn(db, ids)
  const media = await listMedia(db, (query) => void query.whereNull('binned_at').orderBy('name'))
  const campaigns: unknown[] = await db('campaigns').whereNull('binned_at').orderBy('name').select('name')
  const tests = await testsWhere(db, (query) => void query.whereNot({ status: 'settled' }).orderBy('number'))
  const site = archivedSiteSchema.parse({
    format: 'upbeat-sprig-site',
    version: 2,
    settings: archivedSettingsSchema.parse(await readSettings(db)),
    documents,
    versions: await versionsOf(db, ids),
    tests: tests.map(({ number, design, notes, tags }) => ({ number, design, notes, tags })),
    segments: await segmentsNow(db),
    ...(await goalsOf(db)),
    campaigns: campaigns.map((row) => z.object({ name: z.string() }).parse(row).name),
    media: media.map(({ name, title, alt }) => ({ name, title, alt })),
    rules: (await livePersonalizations(db)).filter(({ document }) => ids.has(document)).map(rulesOf),
    plans: await plansOf(db, ids),
    redirects: (await listRedirects(db)).filter(
      ({ from, document }) => ids.has(document) && pageAddressSchema.safeParse(from).success,
    ),
    history: await Promise.all(history.map((row) => indexOf(db, row))),
    takenOff: await takenOffOf(db),
    leftOut: await leftOutNow(db),
  } satisfies Record<keyof ArchivedSite, unknown>)
  return { site, history }
}

async function indexOf(db: Knex, { number, name, design, decision }: TestRow): Promise<ArchivedSite['history'][number]> {
  const versions: unknown[] = await db('versions').where({ test_number: number }).orderBy('id').pluck('id')
  return {
    ...{ number, name, at: decision?.at ?? '' },
    documents: [...new Set(partsOf(design).map(({ document }) => document))],
    versions: z.array(versionSchema.shape.id).parse(versions),
  }
}

/** A rule as it is live, without the counts that go on by it. */
export function rulesOf({ document, node, rules, holdout, primary, watched }: Personalization): ArchivedSite['rules'][number] {
  const measured = { holdout, primary, watched: [...watched] }
  return { document, node, rules: rules.map(({ version, condition }) => ({ version, condition })), measured }
}

async function documentsOf(db: Knex): Promise<ArchivedSite['documents']> {
  const published = await readPublished(db, 'all')
  const rows: unknown[] = await db('documents').whereNull('binned_at').orderBy(['position', 'id']).select('draft', 'position')
  // One row that cannot be read costs itself, and not the archive.
  return rows
    .flatMap((row) => draftRow.safeParse(row).data ?? [])
    .map(({ draft, position }) => {
      const live = published.get(draft.id)
      return { draft: asKept(draft), published: live === undefined ? null : asKept(live), position }
    })
}

/** As it would be kept today: some were kept before texts were written in one way. */
function asKept(document: ContentDocument): ContentDocument {
  const checked = checkDocument(document)
  return checked.ok ? checked.document : document
}

async function versionsOf(db: Knex, documents: ReadonlySet<DocumentId>): Promise<ArchivedSite['versions']> {
  const rows: unknown[] = await db('versions').where({ settled: 0 }).orderBy(['position', 'id'])
  return rows
    .flatMap((row) => versionRow.safeParse(row).data ?? [])
    .filter(({ document_id: document }) => documents.has(document))
    .map(({ document_id: document, node_id: node, test_number: test, ...rest }) => ({ ...rest, document, node, test }))
}

async function goalsOf(db: Knex): Promise<Pick<ArchivedSite, 'goals' | 'goalStates'>> {
  const rows = (await goalRows(db)).sort((one, other) => (one.body.id < other.body.id ? -1 : 1))
  return {
    goals: rows.map(({ body }) => body),
    goalStates: rows
      .filter(({ body, published, archived }) => archived || !isSameData(body, published))
      .map(({ body, published, archived }) => ({ goal: body.id, published, archived })),
  }
}

async function plansOf(db: Knex, documents: ReadonlySet<DocumentId>): Promise<ArchivedSite['plans']> {
  const rows: unknown[] = await db('gain_plans').orderBy('personalization').select('personalization', 'document_id', 'plan')
  return rows
    .flatMap((row) => planRow.safeParse(row).data ?? [])
    .filter(({ document_id: document }) => documents.has(document))
    .map(({ personalization, document_id: document, plan }) => {
      return { document, node: nodeIdSchema.parse(personalization.slice(document.length + 1)), plan }
    })
}

async function takenOffOf(db: Knex): Promise<ArchivedSite['takenOff']> {
  const rows: unknown[] = await db('gain_entries').orderBy('id').select('id', 'name', 'body', 'at')
  return rows.flatMap((row) => takenOffRow.safeParse(row).data ?? [])
}
