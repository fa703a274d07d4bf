import type { Knex } from 'knex'
import * as z from 'zod'
import type { Visitor } from '@/core/decide'
import { documentIdSchema, testIdSchema, type DocumentId, type RoundId, type TestId } from '@/core/ids'
import { rememberedVisitor, visitorSchema } from '@/core/ledger'
import { jsonColumn } from '../database/json-column'
import { LOOKED_BACK } from './last-days'
import { readCalendar } from './settings'

/** So many are read before anybody is answered: shares are right to two parts in a hundred. */
const SAMPLE = 2000
/** So many where somebody looks on: to seven in a thousand. */
const CLOSER = 20_000
/** What is understood at once, between other things that a process has to do. */
const AT_ONCE = 500
const KEPT_MS = 300_000
const DAY = 86_400_000

const stateRow = z.object({ visitor: z.instanceof(Buffer), state: jsonColumn(visitorSchema) })

/** Those who came in the last 28 days, as they were on their last visit, as many as have been read so far. */
class Sample {
  readonly visitors: Visitor[] = []
  private around: Parameters<typeof rememberedVisitor>[1] | null = null
  /** The last that was read; `null` where there is none after it. */
  private after: Buffer | null = Buffer.alloc(0)
  private reading: Promise<void> | null = null

  constructor(private readonly db: Knex) {}

  /** How many will have been read at most, when all is read. */
  get awaited(): number | null {
    return this.after === null || this.visitors.length >= CLOSER ? null : CLOSER
  }

  /** Until there are so many, or no more. One reads at a time. */
  async upTo(many: number): Promise<void> {
    while (this.visitors.length < many && this.after !== null) {
      this.reading ??= this.readMore().finally(() => (this.reading = null))
      await this.reading
    }
  }

  private async readMore(): Promise<void> {
    const around = (this.around ??= await surroundings(this.db))
    // By their own ids, which are random: neither those who came last nor those who came first.
    const rows: unknown[] = await this.db('ledger_visitors')
      .where({ crowd: 0 })
      .where('last_at', '>=', new Date(Date.now() - LOOKED_BACK * DAY))
      .where('visitor', '>', this.after ?? Buffer.alloc(0))
      .orderBy('visitor')
      .limit(AT_ONCE)
      .select('visitor', 'state')
    const read = rows.map((row) => stateRow.parse(row))
    this.visitors.push(...read.flatMap(({ state }) => rememberedVisitor(state, around) ?? []))
    this.after = rows.length < AT_ONCE ? null : (read.at(-1)?.visitor ?? null)
  }
}

const kept = new WeakMap<Knex, { readonly until: number; readonly sample: Sample }>()
function sampleOf(db: Knex): Sample {
  const known = kept.get(db)
  if (known !== undefined && known.until > performance.now()) return known.sample
  const sample = new Sample(db)
  kept.set(db, { until: performance.now() + KEPT_MS, sample })
  return sample
}

/** A sample of those who came in the last 28 days; the same for some minutes. */
export async function recentVisitors(db: Knex): Promise<readonly Visitor[]> {
  const sample = sampleOf(db)
  await sample.upTo(SAMPLE)
  return sample.visitors
}

/**
 * The same, while more of them are read in the background for whoever asks again.
 *
 * @returns how many will be read at most; `null` where no more will
 */
export async function recentVisitorsCloser(db: Knex): Promise<{ visitors: readonly Visitor[]; awaited: number | null }> {
  const visitors = await recentVisitors(db)
  const sample = sampleOf(db)
  // What fails here is tried again by the next who asks.
  void sample.upTo(CLOSER).catch(() => undefined)
  return { visitors, awaited: sample.awaited }
}

/** A round that is no test’s is one of rules. */
function testOfRound(round: RoundId): TestId | null {
  return testIdSchema.safeParse(/^(t-\d+)-r\d+$/.exec(round)?.[1]).data ?? null
}

async function surroundings(db: Knex): Promise<Parameters<typeof rememberedVisitor>[1]> {
  const calendar = await readCalendar(db)
  const types = new Map(
    z
      .array(z.object({ id: documentIdSchema, page_type: z.string().nullable() }))
      .parse(await db('documents').where({ kind: 'page' }).select('id', 'page_type'))
      .map(({ id, page_type }): [DocumentId, string] => [id, page_type ?? '']),
  )
  return { pageTypeOf: (page) => types.get(page), clockOf: (at) => calendar.clockOf(at), testOf: testOfRound }
}

/**
 * Of a sample of those who came in the last week, how many met no running test, one, two, and so on.
 *
 * @param rounds those that are running
 * @returns by the number of tests, from none
 */
export async function testsMet(db: Knex, rounds: ReadonlySet<RoundId>): Promise<number[]> {
  const rows: unknown[] = await db('ledger_visitors')
    .where({ crowd: 0 })
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
