import type { Knex } from 'knex'
import * as z from 'zod'
import { PAGE_SIZE, type DecisionView, type TestLine } from '@/contract/contract'
import { wholeReading, type CountedRow } from '@/core/experiment'
import type { Goal } from '@/core/goals'
import { documentIdSchema, type DocumentId, type RoundId } from '@/core/ids'
import type { Calendar } from '@/core/time'
import { listGoals } from '../stores/goals'
import { rowsOfRounds } from '../stores/results'
import { lastChange } from '../stores/audit-trail'
import { calendarIn, readSettings } from '../stores/settings'
import { lastRounds, newsOf, testId, testsWhere, type RoundRow, type StoredDecision, type TestRow } from '../stores/tests'
import { readRound, type Read } from './result-of'
import { drawsNobody, testFacts } from './test-facts'

export async function listTests(
  db: Knex,
  narrow: (query: Knex.QueryBuilder) => void,
  page: number,
): Promise<{ lines: TestLine[]; total: number; running: number; people: string[] }> {
  const running = z
    .object({ total: z.coerce.number() })
    .parse(await db('tests').where({ status: 'running' }).count({ total: '*' }).first()).total
  const total = z.object({ total: z.coerce.number() }).parse(await db('tests').modify(narrow).count({ total: '*' }).first()).total
  const rows = await testsWhere(db, (query) => {
    narrow(query)
    void query
      .orderBy('number', 'desc')
      .limit(PAGE_SIZE)
      .offset((page - 1) * PAGE_SIZE)
  })
  const makers: unknown[] = await db('tests').distinct('created_by').orderBy('created_by').limit(200)
  const people = makers.map((maker) => z.object({ created_by: z.string() }).parse(maker).created_by)
  return { lines: await testLines(db, rows), total, running, people }
}

interface Shared {
  readonly rounds: ReadonlyMap<number, RoundRow>
  readonly counts: ReadonlyMap<RoundId, readonly CountedRow[]>
  readonly goals: readonly Goal[]
  readonly titles: ReadonlyMap<DocumentId, string>
  readonly currency: string
  readonly calendar: Calendar
  /** The last change to anything, and the day: while these stay, so does what a test could be started with. */
  readonly asOf: string
}

/** Tests in a line each: what each asks, how it stands, and what it waits for. What they share is read once. */
export async function testLines(db: Knex, rows: readonly TestRow[]): Promise<TestLine[]> {
  const numbers = rows.map(({ number }) => number)
  const homes = rows.map(({ document_id }) => document_id)
  const rounds = await lastRounds(db, numbers)
  const ids = [...rounds.values()].map(({ snapshot }) => snapshot.id)
  const { currency, timeZone } = await readSettings(db)
  const calendar = calendarIn(timeZone)
  const shared: Shared = {
    rounds,
    counts: await rowsOfRounds(db, 0, ids),
    goals: await listGoals(db),
    titles: await titlesOf(db, homes),
    currency,
    calendar,
    asOf: `${await lastChange(db)} ${calendar.dayOf(new Date())}`,
  }
  return Promise.all(rows.map((row) => testLine(db, row, shared)))
}

/** How documents are called. */
export async function titlesOf(db: Knex, ids: readonly DocumentId[]): Promise<Map<DocumentId, string>> {
  const rows: unknown[] = ids.length === 0 ? [] : await db('documents').whereIn('id', ids).select('id', 'title')
  const schema = z.object({ id: documentIdSchema, title: z.string() })
  return new Map(rows.map((row) => schema.parse(row)).map(({ id, title }) => [id, title]))
}

async function testLine(db: Knex, row: TestRow, shared: Shared): Promise<TestLine> {
  const { rounds, counts, goals, titles, asOf } = shared
  const round = rounds.get(row.number)
  const found = round === undefined ? null : readLine(round, counts.get(round.snapshot.id) ?? [], shared)
  const page = titles.get(row.document_id) ?? ''
  const ready = row.status === 'draft' ? await readinessOf(db, row, asOf) : null
  const read = found === null ? null : wholeReading(found.result)
  const settled = row.status === 'settled' && row.decision !== null ? row.decision : null
  return {
    id: testId(row.number),
    name: row.name,
    status: row.status,
    page,
    problem: row.design.problem,
    campaign: row.design.campaign,
    goal: goals.find(({ id }) => id === row.design.primary)?.name ?? null,
    readiness: ready,
    sentence: settled?.sentence ?? found?.view.sentence ?? null,
    reading: settled?.reading ?? read,
    evidence: found?.view.overTime[0]?.points.map(({ day, lower, upper }) => ({ day, lower, upper })) ?? [],
    exposed: found?.view.rates.reduce((sum, { exposed }) => sum + exposed, 0) ?? 0,
    waiting: found?.waiting ?? { kind: 'unknown' },
    drawsNobody: row.status === 'running' ? await standsOn(db, row, asOf) : null,
    schedule: row.design.schedule,
    news: newsOf(row),
    startedAt: row.started_at?.toISOString() ?? null,
    settledAt: row.settled_at?.toISOString() ?? null,
  }
}

type Ready = TestLine['readiness']
const MOST_KEPT = 1000
/** Of tests that were read before, as of the last change. */
const knownReady = new Map<string, Ready>()
const knownToDraw = new Map<string, string | null>()

const keyOf = ({ number, created_at }: TestRow, asOf: string) => `${number} ${created_at.getTime()} ${asOf}`

/** As it was found, for as long as nothing is changed: a list that asks every few seconds looks at no draft again. */
async function readinessOf(db: Knex, row: TestRow, asOf: string): Promise<Ready> {
  const key = keyOf(row, asOf)
  const known = knownReady.get(key)
  if (known !== undefined) return known
  const { readiness, isLookedAt } = await testFacts(db, row, 'later')
  const found = { blocks: readiness.blocks.length, advises: readiness.advises.length }
  if (isLookedAt) keep(knownReady, key, found)
  return found
}

async function standsOn(db: Knex, row: TestRow, asOf: string): Promise<string | null> {
  const key = keyOf(row, asOf)
  const known = knownToDraw.get(key)
  if (known !== undefined) return known
  const found = await drawsNobody(db, row.design)
  keep(knownToDraw, key, found)
  return found
}

function keep<Of>(into: Map<string, Of>, key: string, found: Of): void {
  if (into.size >= MOST_KEPT) into.clear()
  into.set(key, found)
}

function readLine(round: RoundRow, rows: readonly CountedRow[], { currency, calendar }: Shared): Read | null {
  const { plannedTotal } = round.snapshot
  return readRound(round, { crowd: 0, goal: null }, { rows, plannedTotal, currency, calendar, now: new Date() })
}

export function decisionView({
  kind,
  version,
  versionName,
  reason,
  lesson,
  sentence,
  reading,
  by,
  at,
  undone,
}: StoredDecision): DecisionView {
  return { kind, version, versionName, reason, lesson, sentence, reading, by, at, undone }
}
