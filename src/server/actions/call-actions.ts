import type { Knex } from 'knex'
import * as z from 'zod'
import { PAGE_SIZE, type CallLine, type Parsed } from '@/contract/contract'
import { statuses } from '@/core/experiment'
import { documentIdSchema, type DocumentId } from '@/core/ids'
import { componentTypes } from '@/components/types'
import { jsonColumn } from '../database/json-column'
import { placesOf } from '../stores/document-index'
import { stateOf } from '../stores/documents'
import { readCalendar, readSettings } from '../stores/settings'
import { testId } from '../stores/tests'
import { contains } from '../database/contains'
import { csvLines } from '../formats/csv'
import { placeLine } from './document-actions'
import type { Area } from './handler'

type Filter = Pick<Parsed<'call.list'>, 'campaign' | 'from' | 'to' | 'channel'>

export const callActions: Area<'call'> = {
  'call.list': async ({ db }, { page, search, only, ...filter }) => {
    const narrow = (query: Knex.QueryBuilder) => {
      void query.where({ kind: 'callToAction', binned_at: null })
      if (filter.campaign !== '') void query.where({ campaign: filter.campaign })
      if (only !== undefined) void query.where({ id: only })
      if (search !== '') void query.whereILike('title', contains(search))
    }
    const total = z
      .object({ total: z.coerce.number() })
      .parse(await db('documents').modify(narrow).count({ total: '*' }).first()).total
    return {
      total,
      currency: (await readSettings(db)).currency,
      lines: await callLines(
        db,
        filter,
        (query) =>
          void query
            .modify(narrow)
            .limit(PAGE_SIZE)
            .offset((page - 1) * PAGE_SIZE),
      ),
    }
  },

  'call.table': async ({ db }, filter) => {
    const lines = await callLines(db, filter, (query) => {
      void query.where({ kind: 'callToAction', binned_at: null }).limit(10_000)
      if (filter.campaign !== '') void query.where({ campaign: filter.campaign })
    })
    const head = [
      'call to action',
      'campaign',
      'look',
      'places',
      'views',
      'clicks',
      'click-through',
      'submissions',
      'worth',
      'revenue',
      'orders open',
      'orders closed',
      'last change',
    ]
    const rows = lines.map((line) => [
      line.title,
      line.campaign,
      line.look,
      line.places.map(({ title }) => title).join('; '),
      line.views,
      line.clicks,
      line.views === 0 ? '' : (line.clicks / line.views).toFixed(4),
      line.submissions,
      line.worth,
      line.revenue,
      line.ordersOpen,
      line.ordersClosed,
      line.updatedAt,
    ])
    return { csv: csvLines([head, ...rows]) }
  },
}

const rowSchema = z.object({
  id: documentIdSchema,
  title: z.string(),
  about: jsonColumn(z.record(z.string(), z.unknown())),
  campaign: z.string(),
  lock_version: z.number(),
  published_revision: z.number().nullable(),
  published_lock: z.number().nullable(),
  updated_at: z.date(),
  updated_by: z.string(),
})

async function callLines(db: Knex, filter: Filter, narrow: (query: Knex.QueryBuilder) => void): Promise<CallLine[]> {
  const found: unknown[] = await db('documents').modify(narrow).orderBy('position').select(Object.keys(rowSchema.shape))
  const rows = found.map((row) => rowSchema.parse(row))
  const ids = rows.map(({ id }) => id)
  const [places, sums, orders, tests] = await Promise.all([
    placesOf(db, ids, 'shows'),
    sumsOf(db, ids, filter),
    ordersOf(db, ids, filter),
    testsOf(db, ids),
  ])
  const looks = componentTypes.get('callToActionText')?.fields.look?.choices ?? {}
  return rows.map((row) => ({
    id: row.id,
    title: row.title,
    look: looks[String(row.about.look ?? 'accent')] ?? '',
    campaign: row.campaign,
    state: stateOf(row),
    places: places.filter(({ used_id, kind }) => used_id === row.id && kind !== 'template').map(placeLine),
    tests: tests
      .filter(({ document_id }) => document_id === row.id)
      .map(({ number, name, status }) => ({ id: testId(number), name, status })),
    ...(sums.get(row.id) ?? { views: 0, clicks: 0, submissions: 0, worth: 0 }),
    ...(orders.get(row.id) ?? { revenue: 0, ordersOpen: 0, ordersClosed: 0 }),
    updatedAt: row.updated_at.toISOString(),
    updatedBy: row.updated_by,
  }))
}

const sumSchema = z.object({
  call_id: z.string(),
  views: z.coerce.number(),
  clicks: z.coerce.number(),
  submissions: z.coerce.number(),
  worth: z.coerce.number(),
})

async function sumsOf(db: Knex, ids: readonly DocumentId[], { from, to, channel }: Filter) {
  const rows: unknown[] = await db('call_daily')
    .whereIn('call_id', ids)
    .modify((query) => {
      if (from !== null) void query.where('day', '>=', from)
      if (to !== null) void query.where('day', '<=', to)
      if (channel !== 'all') void query.where({ channel })
    })
    .groupBy('call_id')
    .select('call_id')
    .sum({ views: 'views', clicks: 'clicks', submissions: 'submissions', worth: 'worth' })
  return new Map(rows.map((row) => sumSchema.parse(row)).map(({ call_id, ...sums }) => [call_id, sums]))
}

const orderSums = z.object({
  call_id: z.string(),
  revenue: z.coerce.number(),
  ordersOpen: z.coerce.number(),
  ordersClosed: z.coerce.number(),
})

/** Orders on the day on which they were made, with what was paid back of them taken off. */
async function ordersOf(db: Knex, ids: readonly DocumentId[], { from, to, channel }: Filter) {
  const { beginOf, endOf } = await readCalendar(db)
  const rows: unknown[] = await db('orders')
    .whereIn('call_id', ids)
    .modify((query) => {
      if (from !== null) void query.where('at', '>=', beginOf(from))
      if (to !== null) void query.where('at', '<', endOf(to))
      if (channel !== 'all') void query.where({ channel })
    })
    .groupBy('call_id')
    .select(
      'call_id',
      db.raw('ROUND(SUM(value - refunded), 2) AS revenue, SUM(closed = 0) AS ordersOpen, SUM(closed = 1) AS ordersClosed'),
    )
  return new Map(rows.map((row) => orderSums.parse(row)).map(({ call_id, ...sums }) => [call_id, sums]))
}

async function testsOf(db: Knex, ids: readonly DocumentId[]) {
  const rows: unknown[] = await db('tests as t')
    .join('test_parts as p', 'p.test_number', 't.number')
    .whereIn('p.document_id', ids)
    .whereNot('t.status', 'settled')
    .select('t.number', 't.name', 't.status', 'p.document_id')
  const line = z.object({ number: z.number(), name: z.string(), status: z.enum(statuses), document_id: documentIdSchema })
  return rows.map((row) => line.parse(row))
}
