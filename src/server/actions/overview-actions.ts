import type { Knex } from 'knex'
import * as z from 'zod'
import { PAGE_SIZE } from '@/contract/contract'
import { statuses } from '@/core/experiment'
import { documentKinds } from '@/core/document'
import { documentIdSchema } from '@/core/ids'
import { SITE, subjects } from '@/core/ledger'
import { placesOf } from '../stores/document-index'
import { stateOf } from '../stores/documents'
import { newestRelease } from '../stores/releases'
import { anyoneCounts } from '../stores/leases'
import { sumsSince } from '../stores/results'
import { firstDay } from '../stores/last-days'
import { readCalendar, readSettings } from '../stores/settings'
import { testId, testsWhere } from '../stores/tests'
import { contains } from '../database/contains'
import type { Handlers } from './handler'
import { siteFigures } from './site-figures'
import { worseRules } from './gain-views'
import { listTests, testLines } from './test-lines'
import { whereNext } from './where-next'
import { countSetAside } from '../stores/events'
import { madeUp } from '../stores/made-up'
import { servedNow } from '../stores/site-processes'

const NOW_MINUTES = 5
/** A jobs process that has not been heard of for this long is taken to be gone. */
const JOBS_SILENCE = 60_000

export const overviewActions: Handlers<
  'session.read' | 'today.read' | 'site.figures' | 'site.madeUp' | 'site.next' | 'site.read' | 'site.serving'
> = {
  'session.read': ({ account }) => Promise.resolve(account),

  'today.read': async ({ db }) => {
    const calendar = await readCalendar(db)
    const today = calendar.dayOf(new Date())
    const [tests, settled, sums, now, counting, changed, worse] = await Promise.all([
      // All that is not settled may need somebody; of the settled ones, the last few.
      listTests(db, (query) => void query.whereNot({ status: 'settled' }), 1),
      lastSettled(db),
      sumsSince(db, today, [SITE, subjects.people]),
      visitorsSince(db, new Date(Date.now() - NOW_MINUTES * 60_000)),
      countingHealth(db),
      changedPages(db),
      worseRules(db),
    ])
    return {
      tests: [...tests.lines, ...settled],
      changedPages: changed,
      worseRules: worse,
      visitorsToday: sums.get(subjects.people)?.visitors ?? 0,
      viewsToday: sums.get(SITE)?.times ?? 0,
      visitorsNow: now,
      counting,
    }
  },

  'site.serving': async ({ db }) => {
    const [release, served] = await Promise.all([newestRelease(db), servedBy(db)])
    return {
      served,
      release:
        release === null
          ? null
          : { number: release.number, reason: release.reason, by: release.author, at: release.at.toISOString() },
    }
  },

  'site.figures': ({ db }, { document }) => siteFigures(db, document),

  'site.madeUp': ({ db }) => madeUp(db),

  'site.next': async ({ db }, { document }) => ({
    places: await whereNext(db, document),
    currency: (await readSettings(db)).currency,
  }),

  'site.read': async ({ db }, { page, search, campaign }) => {
    const narrow = (query: Knex.QueryBuilder) => {
      void query.where({ kind: 'page', binned_at: null })
      if (campaign !== '') void query.where({ campaign })
      if (search !== '')
        void query.where((either) => either.whereILike('title', contains(search)).orWhereILike('path', contains(search)))
    }
    const total = z
      .object({ total: z.coerce.number() })
      .parse(await db('documents').modify(narrow).count({ total: '*' }).first()).total
    const found: unknown[] = await db('documents')
      .modify(narrow)
      .orderBy('position')
      .limit(PAGE_SIZE)
      .offset((page - 1) * PAGE_SIZE)
      .select(
        'id',
        'title',
        'path',
        'page_type',
        'lock_version',
        'published_revision',
        'published_lock',
        'updated_at',
        'updated_by',
      )
    const rows = found.map((row) => pageRow.parse(row))
    const ids = rows.map(({ id }) => id)
    const sums = await sumsSince(db, await firstDay(db), ids)
    const tests: unknown[] = await db('tests as t')
      .join('test_parts as p', 'p.test_number', 't.number')
      .whereIn('p.document_id', ids)
      .whereNot({ status: 'settled' })
      .distinct('t.number', 't.name', 't.status', 'p.document_id')
    const varying = tests.map((row) => testRow.parse(row))
    const personalized: unknown[] = await db('personalizations')
      .whereIn('document_id', ids)
      .groupBy('document_id')
      .select('document_id')
      .count({ parts: '*' })
    const parts = new Map(
      personalized
        .map((row) => z.object({ document_id: z.string(), parts: z.coerce.number() }).parse(row))
        .map((row) => [row.document_id, row.parts]),
    )
    return {
      lines: rows.map((row) => ({
        id: row.id,
        title: row.title,
        path: row.path ?? '',
        pageType: row.page_type,
        state: stateOf(row),
        tests: varying
          .filter(({ document_id }) => document_id === row.id)
          .map(({ number, name, status }) => ({ id: testId(number), name, status })),
        personalized: parts.get(row.id) ?? 0,
        views: sums.get(row.id)?.times ?? 0,
        visitors: sums.get(row.id)?.visitors ?? 0,
        updatedAt: row.updated_at.toISOString(),
        updatedBy: row.updated_by,
      })),
      total,
      others: await sharedDocuments(db),
    }
  },
}

const pageRow = z.object({
  id: documentIdSchema,
  title: z.string(),
  path: z.string().nullable(),
  page_type: z.string(),
  lock_version: z.number(),
  published_revision: z.number().nullable(),
  published_lock: z.number().nullable(),
  updated_at: z.date(),
  updated_by: z.string(),
})
const testRow = z.object({ number: z.number(), name: z.string(), status: z.enum(statuses), document_id: z.string() })

const sharedRow = z.object({
  id: documentIdSchema,
  kind: z.enum(documentKinds),
  title: z.string(),
  lock_version: z.number(),
  published_revision: z.number().nullable(),
  published_lock: z.number().nullable(),
  tests: z.coerce.number(),
})

/** What is no page: menus, calls to action, shared components, styles and templates, with what they stand on. */
async function sharedDocuments(db: Knex) {
  const rows: unknown[] = await db('documents as d')
    .whereNot({ kind: 'page' })
    .whereNull('d.binned_at')
    .orderBy([{ column: 'd.kind', order: 'desc' }, { column: 'd.position' }])
    .limit(500)
    .select('d.id', 'd.kind', 'd.title', 'd.lock_version', 'd.published_revision', 'd.published_lock')
    .select(
      db('test_parts as p')
        .join('tests as t', 't.number', 'p.test_number')
        .whereRaw('p.document_id = d.id')
        .whereNot('t.status', 'settled')
        .count('*')
        .as('tests'),
    )
  const shared = rows.map((row) => sharedRow.parse(row))
  const places = await placesOf(
    db,
    shared.map(({ id }) => id),
    'shows',
  )
  return shared.map((row) => ({
    id: row.id,
    kind: row.kind,
    title: row.title,
    state: stateOf(row),
    usedOn: places.filter(({ used_id, kind }) => used_id === row.id && kind !== 'template').map(({ title }) => title),
    tests: row.tests,
  }))
}

async function visitorsSince(db: Knex, since: Date): Promise<number> {
  const row: unknown = await db('events')
    .where('at', '>=', since)
    .where({ crowd: 0, kind: 'page' })
    .countDistinct({ visitors: 'visitor' })
    .first()
  return z.object({ visitors: z.coerce.number() }).parse(row).visitors
}

async function countingHealth(db: Knex) {
  const waiting = z
    .object({ waiting: z.coerce.number() })
    .parse(await db('events').where({ tallied: 0 }).count({ waiting: '*' }).first()).waiting
  // By when it happened, not by when it was handed on; rehearsals may lie ahead.
  const last: unknown = await db('events').where({ crowd: 0 }).where('at', '<=', new Date()).orderBy('at', 'desc').first('at')
  const time = z.object({ at: z.date() })
  return {
    waiting,
    setAside: await countSetAside(db),
    lastEventAt: last === undefined ? null : time.parse(last).at.toISOString(),
    jobsWell: await anyoneCounts(db, JOBS_SILENCE),
  }
}

/** What each site process serves, with the titles of what it could not make. */
async function servedBy(db: Knex) {
  const served = await servedNow(db)
  const ids = [...new Set(served.flatMap(({ faults }) => faults.map(({ id }) => id)))]
  const rows: { id: string; title: string }[] =
    ids.length === 0 ? [] : await db('documents').whereIn('id', ids).select('id', 'title')
  const titles = new Map(rows.map(({ id, title }) => [id, title]))
  return served.map(({ name, release, faults }) => ({
    name,
    release,
    faults: faults.map(({ id, words }) => ({ id, words, title: titles.get(id) ?? id })),
  }))
}

async function lastSettled(db: Knex) {
  const rows = await testsWhere(db, (query) => void query.where({ status: 'settled' }).orderBy('settled_at', 'desc').limit(3))
  return testLines(db, rows)
}

async function changedPages(db: Knex) {
  const rows: unknown[] = await db('documents')
    .where({ kind: 'page', binned_at: null })
    .where((query) => query.whereNull('published_lock').orWhereRaw('published_lock <> lock_version'))
    .orderBy('updated_at', 'desc')
    .limit(8)
    .select('id', 'title', 'updated_by', 'updated_at')
  return rows
    .map((row) => z.object({ id: documentIdSchema, title: z.string(), updated_by: z.string(), updated_at: z.date() }).parse(row))
    .map(({ id, title, updated_by: by, updated_at }) => ({ id, title, by, at: updated_at.toISOString() }))
}
