import type { Knex } from 'knex'
import * as z from 'zod'
import type { Output } from '@/contract/contract'
import type { Schedule, Status } from '@/core/experiment'
import type { Calendar } from '@/core/time'
import { readCalendar } from '../stores/settings'
import { titlesOf } from './test-lines'
import { testId, testsWhere, type TestRow } from '../stores/tests'

/** More than these nobody can read at once. */
const MOST = 300

const spanRow = z.object({ test_number: z.number(), started_at: z.date(), ended_at: z.date().nullable() })

type Line = Output<'test.calendar'>['lines'][number]

/** When tests ran, run and are planned to, as far as it touches a time; in the order of the pages that they vary. */
export async function testsBetween(db: Knex, from: Date, to: Date): Promise<Line[]> {
  const calendar = await readCalendar(db)
  const ran: unknown[] = await db('rounds')
    .where({ rehearsed: 0 })
    .whereNotNull('test_number')
    .where('started_at', '<', to)
    .where((query) => void query.whereNull('ended_at').orWhere('ended_at', '>', from))
    .orderBy('started_at', 'desc')
    .limit(MOST)
    .select('test_number', 'started_at', 'ended_at')
  const spans = ran.map((row) => spanRow.parse(row))
  const tests = await testsWhere(
    db,
    (query) =>
      void query
        .whereIn('number', [...new Set(spans.map(({ test_number: number }) => number))])
        .orWhereIn('status', ['draft', 'scheduled'])
        .orderBy('number')
        .limit(2 * MOST),
  )
  const titles = await titlesOf(db, [...new Set(tests.map(({ document_id: id }) => id))])
  return tests
    .flatMap((row): Line[] => {
      const own = spans.filter(({ test_number: number }) => number === row.number)
      const runs = [...own.map((span) => runOf(span, row, calendar)), ...plannedRun(row, calendar)].filter(
        (run) => run.from < to && (run.to === null || run.to > from),
      )
      if (runs.length === 0) return []
      return [
        {
          id: testId(row.number),
          name: row.name,
          status: row.status,
          changedAt: row.changed_at.toISOString(),
          document: row.document_id,
          page: titles.get(row.document_id) ?? '',
          runs: runs.map(({ from: begin, to: end, isPlanned }) => ({
            from: begin.toISOString(),
            to: end?.toISOString() ?? null,
            isPlanned,
          })),
        },
      ]
    })
    .sort(
      (one, other) => one.page.localeCompare(other.page) || (one.runs[0]?.from ?? '').localeCompare(other.runs[0]?.from ?? ''),
    )
}

interface Run {
  readonly from: Date
  readonly to: Date | null
  readonly isPlanned: boolean
}

/** One that is going on ends when it is told to, if it is. */
function runOf(span: z.infer<typeof spanRow>, { design, status }: TestRow, calendar: Calendar): Run {
  const told = span.ended_at === null && isOpen(status) ? momentOf(design.schedule.end, calendar) : null
  return { from: span.started_at, to: span.ended_at ?? told, isPlanned: false }
}

const isOpen = (status: Status) => status === 'running' || status === 'paused'

function plannedRun({ status, design }: TestRow, calendar: Calendar): Run[] {
  if (status !== 'draft' && status !== 'scheduled') return []
  const from = momentOf(design.schedule.start, calendar)
  return from === null ? [] : [{ from, to: momentOf(design.schedule.end, calendar), isPlanned: true }]
}

function momentOf(clock: Schedule['start'], { read }: Calendar): Date | null {
  return clock === null ? null : (read(clock)?.at ?? null)
}
