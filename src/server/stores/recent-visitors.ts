import type { Knex } from 'knex'
import * as z from 'zod'
import type { Visitor } from '@/core/decide'
import { documentIdSchema, testIdSchema, type DocumentId, type RoundId, type TestId } from '@/core/ids'
import { rememberedVisitor, visitorSchema } from '@/core/ledger'
import { jsonColumn } from '../database/json-column'
import { LOOKED_BACK } from './last-days'
import { readCalendar } from './settings'

/** So many are read, of however many there were: shares are right to two parts in a hundred. */
const SAMPLE = 2000
const KEPT_MS = 60_000
const DAY = 86_400_000
const kept = new WeakMap<Knex, { readonly until: number; readonly visitors: Promise<readonly Visitor[]> }>()

/** A sample of those who came in the last 28 days, as they were on their last visit; the same for a minute. */
export async function recentVisitors(db: Knex): Promise<readonly Visitor[]> {
  const known = kept.get(db)
  if (known !== undefined && known.until > performance.now()) return known.visitors
  const visitors = readRecent(db)
  kept.set(db, { until: performance.now() + KEPT_MS, visitors })
  visitors.catch(() => kept.delete(db))
  return visitors
}

/** A round that is no test’s is one of rules. */
function testOfRound(round: RoundId): TestId | null {
  return testIdSchema.safeParse(/^(t-\d+)-r\d+$/.exec(round)?.[1]).data ?? null
}

async function readRecent(db: Knex): Promise<readonly Visitor[]> {
  const calendar = await readCalendar(db)
  const types = new Map(
    z
      .array(z.object({ id: documentIdSchema, page_type: z.string().nullable() }))
      .parse(await db('documents').where({ kind: 'page' }).select('id', 'page_type'))
      .map(({ id, page_type }): [DocumentId, string] => [id, page_type ?? '']),
  )
  const around = {
    pageTypeOf: (page: DocumentId) => types.get(page),
    clockOf: (at: Date) => calendar.clockOf(at),
    testOf: testOfRound,
  }
  // By their own ids, which are random: neither those who came last nor those who came first.
  const rows: unknown[] = await db('ledger_visitors')
    .where({ source: 0 })
    .where('last_at', '>=', new Date(Date.now() - LOOKED_BACK * DAY))
    .orderBy('visitor')
    .limit(SAMPLE)
    .select('state')
  const schema = z.object({ state: jsonColumn(visitorSchema) })
  return rows.flatMap((row) => rememberedVisitor(schema.parse(row).state, around) ?? [])
}

/**
 * Of a sample of those who came in the last week, how many met no running test, one, two, and so on.
 *
 * @param rounds those that are running
 * @returns by the number of tests, from none
 */
export async function testsMet(db: Knex, rounds: ReadonlySet<RoundId>): Promise<number[]> {
  const rows: unknown[] = await db('ledger_visitors')
    .where({ source: 0 })
    .where('last_at', '>=', new Date(Date.now() - 7 * DAY))
    .orderBy('visitor')
    .limit(SAMPLE)
    .select('state')
  const schema = z.object({ state: jsonColumn(visitorSchema) })
  const met: number[] = [0]
  for (const row of rows) {
    const { enrolments } = schema.parse(row).state
    const many = [...enrolments.keys()].filter((round) => rounds.has(round)).length
    while (met.length <= many) met.push(0)
    met[many] = (met[many] ?? 0) + 1
  }
  return met
}
