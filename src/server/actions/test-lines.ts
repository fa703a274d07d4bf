import type { Knex } from 'knex'
import * as z from 'zod'
import { PAGE_SIZE, type DecisionView, type TestLine } from '@/contract/contract'
import { listGoals } from '../stores/goals'
import { roundsOf, testId, testsWhere, type StoredDecision, type TestRow } from '../stores/tests'
import { resultOf, wholeReading } from './result-of'
import { drawsNobody, testFacts } from './test-facts'

export async function listTests(
  db: Knex,
  narrow: (query: Knex.QueryBuilder) => void,
  page: number,
): Promise<{ lines: TestLine[]; total: number; running: number }> {
  const running = await testsWhere(db, (query) => void query.where({ status: 'running' }))
  const total = z.object({ total: z.coerce.number() }).parse(await db('tests').modify(narrow).count({ total: '*' }).first()).total
  const rows = await testsWhere(db, (query) => {
    narrow(query)
    void query
      .orderBy('number', 'desc')
      .limit(PAGE_SIZE)
      .offset((page - 1) * PAGE_SIZE)
  })
  return { lines: await Promise.all(rows.map((row) => testLine(db, row))), total, running: running.length }
}

/** A test in one line: what it asks, how it stands, and what it waits for. */
export async function testLine(db: Knex, row: TestRow): Promise<TestLine> {
  const [round] = await roundsOf(db, row.number)
  const found = round === undefined ? null : await resultOf(db, round, 0, null)
  const goals = await listGoals(db)
  const page = z.object({ title: z.string() }).parse(await db('documents').where({ id: row.document_id }).first('title')).title
  const ready = row.status === 'draft' ? (await testFacts(db, row, 'later')).readiness : null
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
    readiness: ready === null ? null : { blocks: ready.blocks.length, advises: ready.advises.length },
    sentence: settled?.sentence ?? found?.view.sentence ?? null,
    reading: settled?.reading ?? read?.reading ?? null,
    evidence: found?.view.overTime[0]?.points.map(({ day, lower, upper }) => ({ day, lower, upper })) ?? [],
    exposed: found?.view.rates.reduce((sum, { exposed }) => sum + exposed, 0) ?? 0,
    daysMore: read?.daysMore ?? null,
    drawsNobody: row.status === 'running' ? await drawsNobody(db, row.design) : null,
    startedAt: row.started_at?.toISOString() ?? null,
    settledAt: row.settled_at?.toISOString() ?? null,
  }
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
