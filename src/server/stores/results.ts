import type { Knex } from 'knex'
import * as z from 'zod'
import type { Goal } from '@/core/goals'
import type { GoalId, RoundId, VersionId } from '@/core/ids'
import { versionIdSchema } from '@/core/ids'

/** The counts of one version on one day, for one goal. */
export interface DayCounts {
  readonly version: VersionId
  readonly day: string
  readonly assigned: number
  readonly exposed: number
  readonly converters: number
  readonly worth: number
  readonly worthSquared: number
  readonly visitsWorth: number
}

const rowSchema = z.object({
  version: versionIdSchema,
  day: z.string(),
  assigned: z.number(),
  exposed: z.number(),
  converters: z.number(),
  worth: z.number(),
  worthSquared: z.number(),
  visitsWorth: z.number(),
})

/** A round's counts by day, oldest first: from tallies alone, so its cost does not grow with traffic. */
export async function dayCounts(db: Knex, source: number, round: RoundId, goal: GoalId): Promise<DayCounts[]> {
  const rows: unknown[] = await db('tallies')
    .where({ source, round_id: round })
    .whereIn('goal_id', ['', goal])
    .groupBy('version', 'day')
    .orderBy('day')
    .select('version', db.raw("DATE_FORMAT(day, '%Y-%m-%d') as day"))
    .select(
      db.raw(
        'CAST(SUM(assigned) AS INT) as assigned, CAST(SUM(exposed) AS INT) as exposed, CAST(SUM(converters) AS INT) as converters, SUM(worth) as worth, SUM(worth_squared) as worthSquared, SUM(visits_worth) as visitsWorth',
      ),
    )
  return rows.map((row) => rowSchema.parse(row))
}

const countRow = z.object({
  goal: z.string(),
  version: versionIdSchema,
  times: z.coerce.number(),
  converters: z.coerce.number(),
  worthSquared: z.coerce.number(),
})

/** How many reached each of these goals, by version, over the whole round. */
export async function reachedBy(
  db: Knex,
  source: number,
  round: RoundId,
  goals: readonly GoalId[],
): Promise<z.infer<typeof countRow>[]> {
  const rows: unknown[] = await db('tallies')
    .where({ source, round_id: round })
    .whereIn('goal_id', goals)
    .groupBy('goal_id', 'version')
    .select({ goal: 'goal_id', version: 'version' })
    .sum({ times: 'conversions', converters: 'converters', worthSquared: 'worth_squared' })
  return rows.map((row) => countRow.parse(row))
}

const sumSchema = z.object({ subject: z.string(), times: z.coerce.number(), visitors: z.coerce.number() })

/** Views and new visitors since a day, by page or goal (`g:` before a goal's id). */
export async function sumsSince(
  db: Knex,
  since: string,
  subjects: readonly string[],
): Promise<Map<string, { times: number; visitors: number }>> {
  if (subjects.length === 0) return new Map()
  const rows: unknown[] = await db('daily')
    .whereIn('subject', subjects)
    .where('day', '>=', since)
    .groupBy('subject')
    .select('subject')
    .sum({ times: 'times', visitors: 'visitors' })
  return new Map(rows.map((row) => sumSchema.parse(row)).map(({ subject, times, visitors }) => [subject, { times, visitors }]))
}

/** Enough for a base rate to within a percentage point, and few enough to be asked for at every change of a sheet. */
const SAMPLE = 10_000

/** Of the visitors new to a page since a day (up to 10,000 of them), the share that also reached the goal, then or later. */
export async function shareReaching(db: Knex, page: string, goal: Goal, since: string): Promise<number | null> {
  const visitors = db('firsts').where({ subject: page }).where('day', '>=', since).limit(SAMPLE).select('visitor', 'day').as('v')
  const row: unknown = await db
    .from(visitors)
    .leftJoin('firsts as g', (on) =>
      on.on('g.visitor', 'v.visitor').andOnVal('g.subject', `g:${goal.id}`).andOn('g.day', '>=', 'v.day'),
    )
    .first(db.raw('COUNT(*) AS visitors, COUNT(g.visitor) AS reached'))
  const { visitors: all, reached } = z.object({ visitors: z.coerce.number(), reached: z.coerce.number() }).parse(row)
  return all === 0 ? null : reached / all
}
