import type { Knex } from 'knex'
import * as z from 'zod'
import { documentSchema } from '@/core/document'
import { partsOf } from '@/core/experiment'
import { documentIdSchema, type DocumentId } from '@/core/ids'
import { isSameData } from '@/core/same-data'
import { restingOn } from '../actions/resting'
import { jsonColumn } from '../database/json-column'
import { listRedirects, readPublished } from '../stores/documents'
import { readPlans } from '../stores/gains'
import { goalRows } from '../stores/goals'
import { listMedia } from '../stores/media'
import { segmentsNow } from '../stores/segments'
import { readSettings } from '../stores/settings'
import { testsTouching, testsWhere } from '../stores/tests'
import { livePersonalizations } from '../stores/versions'
import { rulesOf, versionRow } from './archive-contents'
import { partId, type Here } from './archive-plan'
import { archivedSettingsSchema, type ArchivedSite } from './archived-site'

const documentHere = z.object({ id: documentIdSchema, draft: jsonColumn(documentSchema), binned_at: z.date().nullable() })
const versionHere = versionRow.pick({ id: true, name: true, edits: true, condition: true, test_number: true })

/** What is here of what the archive has; documents that would be changed are held until it is done. */
export async function hereOf(trx: Knex.Transaction, site: ArchivedSite): Promise<Here> {
  const ids = site.documents.map(({ draft }) => draft.id)
  const published = await readPublished(trx, ids)
  const rows: unknown[] = await trx('documents').whereIn('id', ids).forUpdate().select('id', 'draft', 'binned_at')
  const documents = new Map(
    rows.map((row) => {
      const { id, draft, binned_at: binned } = documentHere.parse(row)
      return [id as string, { draft, published: published.get(id) ?? null, binned: binned !== null }]
    }),
  )
  const paths: { path: string; title: string }[] = await trx('documents')
    .whereNotNull('path')
    .whereNotIn('id', ids)
    .select('path', 'title')
  return {
    documents,
    addresses: new Map(paths.map(({ path, title }) => [path, title])),
    restingOn: await restingNames(trx, site, { documents, published }),
    ...(await testsHere(trx, site)),
    segments: await segmentsNow(trx),
    goals: new Map((await goalRows(trx)).map(({ body }) => [body.id, body])),
    campaigns: new Set(
      ((await trx('campaigns').whereNull('binned_at').select('name')) as { name: string }[]).map(({ name }) => name),
    ),
    media: new Set((await listMedia(trx, () => undefined)).map(({ name }) => name)),
    ...(await setUpHere(trx, site)),
  }
}

async function restingNames(
  trx: Knex.Transaction,
  site: ArchivedSite,
  { documents, published }: Pick<Here, 'documents'> & { readonly published: Awaited<ReturnType<typeof readPublished>> },
): Promise<Here['restingOn']> {
  const names = new Map<string, readonly string[]>()
  for (const { draft, published: body } of site.documents)
    // Asked only of what would be published anew: each time all running tests are looked at.
    if (body !== null && documents.has(draft.id) && !isSameData(published.get(draft.id), body))
      names.set(
        draft.id,
        (await restingOn(trx, published.get(draft.id), body)).map(({ row }) => row.name),
      )
  return names
}

async function testsHere(
  trx: Knex.Transaction,
  site: ArchivedSite,
): Promise<Pick<Here, 'tests' | 'versions' | 'history' | 'numbers'>> {
  const touching = await testsTouching(trx, [
    ...new Set(site.tests.flatMap(({ design }) => partsOf(design).map(({ document }) => document))),
  ])
  const versions: unknown[] = await trx('versions')
    .whereIn('id', [...site.versions.map(({ id }) => id), ...site.history.flatMap((one) => one.versions)])
    .orWhereIn(
      'test_number',
      touching.map(({ number }) => number),
    )
  const settled = await testsWhere(
    trx,
    (query) =>
      void query.where({ status: 'settled' }).whereIn(
        'name',
        site.history.map(({ name }) => name),
      ),
  )
  const numbers: unknown[] = await trx('tests').pluck('number')
  return {
    tests: touching.map(({ number, status, design, lock_version: lock }) => ({ number, status, design, lock })),
    versions: new Map(
      versions.map((row) => {
        const { id, test_number: test, ...rest } = versionHere.parse(row)
        return [id as string, { ...rest, test }]
      }),
    ),
    history: settled.flatMap(({ number, name, decision }) => (decision === null ? [] : [{ number, name, at: decision.at }])),
    numbers: new Set(z.array(z.number()).parse(numbers)),
  }
}

type SetUp = Pick<Here, 'settings' | 'rules' | 'plans' | 'redirects' | 'takenOff' | 'untouched'>

async function setUpHere(trx: Knex.Transaction, site: ArchivedSite): Promise<SetUp> {
  const isSet = (await trx('settings').where({ name: 'site' }).first('name')) !== undefined
  const known: unknown[] = await trx('gain_plans').pluck('personalization')
  const ids = new Set(z.array(z.string()).parse(known))
  const plans = await readPlans(trx, [...ids])
  const live = (await livePersonalizations(trx)).map(rulesOf)
  return {
    settings: isSet ? archivedSettingsSchema.parse(await readSettings(trx)) : null,
    rules: new Map(live.map((rule) => [partId(rule), rule])),
    plans: new Map(site.plans.map(partId).flatMap((id) => (ids.has(id) ? [[id, plans(id)]] : []))),
    redirects: new Map((await listRedirects(trx)).map(({ from, document }) => [from, document])),
    takenOff: new Set(z.array(z.string()).parse(await trx('gain_entries').pluck('id'))),
    untouched: await untouchedPage(trx),
  }
}

/** The page that a site begins with, as long as nobody has saved or published it: the only page there is, at “/”. */
async function untouchedPage(trx: Knex.Transaction): Promise<DocumentId | null> {
  const rows: unknown[] = await trx('documents')
    .where({ kind: 'page' })
    .whereNull('binned_at')
    .limit(2)
    .select('id', 'path', 'lock_version', 'published_revision')
  const [only, other] = rows.map((row) => pageRow.parse(row))
  if (only === undefined || other !== undefined) return null
  return only.path === '/' && only.lock_version === 0 && only.published_revision === 1 ? only.id : null
}
const pageRow = z.object({
  id: documentIdSchema,
  path: z.string().nullable(),
  lock_version: z.number(),
  published_revision: z.number().nullable(),
})
