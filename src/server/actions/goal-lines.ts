import type { Knex } from 'knex'
import * as z from 'zod'
import type { GoalLine } from '@/contract/contract'
import { goalsOf, statuses } from '@/core/experiment'
import { lackOf, libraryOf, placesOf, stepId, type Goal, type Library } from '@/core/goals'
import type { ContentDocument } from '@/core/document'
import type { DocumentId, GoalId, NodeId } from '@/core/ids'
import { SITE, subjects } from '@/core/ledger'
import { readPublished } from '../stores/documents'
import { goalRows, type GoalRow } from '../stores/goals'
import { firstDay, lastDays } from '../stores/last-days'
import { miniatureView } from './miniatures'
import { testId, testsWhere } from '../stores/tests'

const SHOWN_PLACES = 6

export function stateOfGoal({ archived, published, body }: GoalRow): GoalLine['state'] {
  if (archived) return 'archived'
  if (published === null) return 'draft'
  return JSON.stringify(published) === JSON.stringify(body) ? 'published' : 'changed'
}

/** Goals with their places, their last 28 days, and the tests that use them. */
export async function goalLines(db: Knex, rows: readonly GoalRow[]): Promise<GoalLine[]> {
  const [days, daily, visitors, uses, published, all] = await Promise.all([
    lastDays(db),
    dailyOf(
      db,
      rows.map(({ id }) => subjects.goal(id)),
    ),
    newVisitors(db),
    usesOf(db),
    readPublished(db, 'all'),
    goalRows(db),
  ])
  const library = libraryOf(all.map(({ body }) => body))
  const pages: { id: DocumentId; title: string; path: string }[] = await db('documents').select('id', 'title', 'path')
  const titles = new Map(pages.map((page) => [page.id, page]))
  return rows.map((row) => {
    const { body } = row
    const mine = daily.filter(({ subject }) => subject === subjects.goal(row.id))
    const sum = (of: 'times' | 'visitors' | 'worth') => mine.reduce((total, day) => total + day[of], 0)
    const places = placesOf(body, library, published)
    const reached = sum('visitors')
    return {
      goal: body,
      state: stateOfGoal(row),
      lock: row.lock_version,
      times: sum('times'),
      visitors: reached,
      rate: visitors === 0 ? null : reached / visitors,
      worth: sum('worth'),
      days: days.map((day) => mine.find((one) => one.day === day)?.times ?? 0),
      places: places.slice(0, SHOWN_PLACES).map(({ document, node }) => ({
        document,
        node,
        title: titles.get(document)?.title ?? '',
        path: titles.get(document)?.path ?? '',
        miniature: miniatureAt(published.get(document), node),
      })),
      placesInAll: places.length,
      tests: uses.filter(({ goal }) => goal === row.id).map(({ id, name, status, as }) => ({ id, name, status, as })),
      lacks: lackOf(body, library, published),
      updatedBy: row.updated_by,
      updatedAt: row.updated_at.toISOString(),
    }
  })
}

function miniatureAt(document: ContentDocument | undefined, node: NodeId | null): GoalLine['places'][number]['miniature'] {
  return document === undefined ? null : miniatureView({ document: document.id, node: node ?? document.root }, document, [])
}

const dayRow = z.object({
  subject: z.string(),
  day: z.string(),
  times: z.coerce.number(),
  visitors: z.coerce.number(),
  worth: z.coerce.number(),
})

/** Days of these subjects in the last four weeks. */
export async function dailyOf(db: Knex, wanted: readonly string[]): Promise<z.infer<typeof dayRow>[]> {
  if (wanted.length === 0) return []
  const since = await firstDay(db)
  const rows: unknown[] = await db('daily')
    .whereIn('subject', wanted)
    .where('day', '>=', since)
    .select('subject', db.raw("DATE_FORMAT(day, '%Y-%m-%d') AS day"), 'times', 'visitors', 'worth')
  return rows.map((row) => dayRow.parse(row))
}

async function newVisitors(db: Knex): Promise<number> {
  return (await dailyOf(db, [SITE])).reduce((sum, { visitors }) => sum + visitors, 0)
}

/** Who passed each step of a funnel in the last four weeks. */
export async function funnelOf(
  db: Knex,
  goal: Goal,
  library: Library,
): Promise<{ goal: GoalId; name: string; passed: number }[]> {
  if (goal.wiring.kind !== 'steps') return []
  const steps = goal.wiring.goals.map((id, index) => ({ id, subject: subjects.goal(stepId(goal.id, index + 1)) }))
  const daily = await dailyOf(
    db,
    steps.map(({ subject }) => subject),
  )
  return steps.map(({ id, subject }) => ({
    goal: id,
    name: library.get(id)?.name ?? 'a goal that is gone',
    passed: daily.filter((day) => day.subject === subject).reduce((sum, { visitors }) => sum + visitors, 0),
  }))
}

async function usesOf(db: Knex) {
  const tests = await testsWhere(db, (query) => void query.orderBy('number', 'desc').limit(1000))
  return tests.flatMap(({ number, name, status, design }) =>
    goalsOf(design).map((goal) => ({
      goal,
      id: testId(number),
      name,
      status: z.enum(statuses).parse(status),
      as:
        goal === design.primary
          ? ('decides' as const)
          : design.watched.includes(goal)
            ? ('watched' as const)
            : ('guard' as const),
    })),
  )
}
