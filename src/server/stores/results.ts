import type { Knex } from 'knex'
import * as z from 'zod'
import type { BesideCounts, CountedRow, EarlierCounts, SegmentCounts, WorthRow } from '@/core/experiment'
import type { Goal } from '@/core/goals'
import { pasts, SEGMENT, traits } from '@/core/ledger'
import type { GoalId, RoundId, VersionId } from '@/core/ids'
import { roundIdSchema, versionIdSchema } from '@/core/ids'

export const rowSchema = z.object({
  round: roundIdSchema,
  epoch: z.number(),
  /** '' for those who came; a goal, or a step of a funnel, for those who reached it. */
  goal: z.string(),
  version: versionIdSchema,
  day: z.string(),
  assigned: z.number(),
  exposed: z.number(),
  converters: z.number(),
  worth: z.number(),
  worthSquared: z.number(),
  visits: z.number(),
  visitsSquared: z.number(),
  visitsWorth: z.number(),
})
/** The rows of these rounds, in one question. */
export async function rowsOfRounds(db: Knex, crowd: number, rounds: readonly RoundId[]): Promise<Map<RoundId, CountedRow[]>> {
  const found: unknown[] =
    rounds.length === 0
      ? []
      : await db('tallies')
          .where({ crowd })
          .whereIn('round_id', rounds)
          .select({
            round: 'round_id',
            epoch: 'epoch',
            goal: 'goal_id',
            version: 'version',
            assigned: 'assigned',
            exposed: 'exposed',
            converters: 'converters',
            worth: 'worth',
            worthSquared: 'worth_squared',
            visits: 'visits',
            visitsSquared: 'visits_squared',
            visitsWorth: 'visits_worth',
          })
          .select(db.raw("DATE_FORMAT(day, '%Y-%m-%d') as day"))
  const byRound = new Map<RoundId, CountedRow[]>(rounds.map((round) => [round, []]))
  for (const raw of found) {
    const row = rowSchema.parse(raw)
    byRound.get(row.round)?.push(row)
  }
  return byRound
}

const worthRow = z.object({
  epoch: z.number(),
  goal: z.string(),
  version: versionIdSchema,
  class: z.number(),
  visitors: z.number(),
  worth: z.number(),
  worthSquared: z.number(),
  visits: z.number(),
  visitsWorth: z.number(),
})

/** Visitors of a round by what they have brought. */
export async function worthsOf(db: Knex, crowd: number, round: RoundId): Promise<WorthRow[]> {
  const rows: unknown[] = await db('worth_classes')
    .where({ crowd, round_id: round })
    .where('visitors', '>', 0)
    .select('epoch', 'goal_id as goal', 'version', 'class', 'visitors', 'worth', 'visits')
    .select({ worthSquared: 'worth_squared', visitsWorth: 'visits_worth' })
  return rows.map((row) => worthRow.parse(row))
}

const earlierRow = z.object({
  epoch: z.number(),
  goal: z.string(),
  version: versionIdSchema,
  past: z.enum(pasts),
  exposed: z.number(),
  converters: z.number(),
})

/** Those who saw a round’s versions by what they had done before, for each goal. */
export async function earlierOf(db: Knex, crowd: number, round: RoundId): Promise<(EarlierCounts & { goal: string })[]> {
  const rows: unknown[] = await db('earlier_tallies')
    .where({ crowd, round_id: round })
    .select('epoch', 'goal_id as goal', 'version', 'past', 'exposed', 'converters')
  return rows.map((row) => earlierRow.parse(row))
}

const besideRow = z.object({
  version: versionIdSchema,
  other: roundIdSchema,
  shown: versionIdSchema,
  exposed: z.coerce.number(),
  converters: z.coerce.number(),
})

/** The same by the versions of other rounds that they had. */
export async function besideOf(db: Knex, crowd: number, round: RoundId): Promise<BesideCounts[]> {
  const rows: unknown[] = await db('beside_tallies')
    .where({ crowd, round_id: round })
    .groupBy('version', 'other_round', 'other_version')
    .select({ version: 'version', other: 'other_round', shown: 'other_version' })
    .sum({ exposed: 'exposed', converters: 'converters' })
    .havingRaw('SUM(exposed) > 0')
  return rows.map((row) => besideRow.parse(row))
}

const segmentRow = z.object({
  trait: z.enum([...traits, SEGMENT]),
  value: z.string(),
  version: versionIdSchema,
  exposed: z.coerce.number(),
  converters: z.coerce.number(),
})

/** Those who saw a round’s versions, and who of them reached a goal, by what is known of them; most visitors first. */
export async function segmentsOf(db: Knex, crowd: number, round: RoundId, goal: GoalId): Promise<SegmentCounts[]> {
  const rows: unknown[] = await db('segment_tallies')
    .where({ crowd, round_id: round })
    .whereIn('goal_id', ['', goal])
    .groupBy('trait', 'trait_value', 'version')
    .select({ trait: 'trait', value: 'trait_value', version: 'version' })
    .sum({ exposed: 'exposed', converters: 'converters' })
    .havingRaw('SUM(exposed) > 0')
    .orderBy('exposed', 'desc')
    .limit(MOST_SEGMENTS)
  return rows.map((row) => segmentRow.parse(row))
}

const amongRow = z.object({
  round: roundIdSchema,
  goal: z.string(),
  version: versionIdSchema,
  day: z.string(),
  exposed: z.coerce.number(),
  converters: z.coerce.number(),
})

/** What was counted on each day of those of some rounds who are of one kind. */
export async function rowsAmong(
  db: Knex,
  crowd: number,
  rounds: readonly RoundId[],
  { trait, values }: { readonly trait: SegmentCounts['trait']; readonly values: readonly string[] },
): Promise<z.infer<typeof amongRow>[]> {
  if (rounds.length === 0 || values.length === 0) return []
  const rows: unknown[] = await db('segment_tallies')
    .where({ crowd, trait })
    .whereIn('round_id', rounds)
    .whereIn('trait_value', values)
    .groupBy('round_id', 'goal_id', 'version', 'day')
    .select({ round: 'round_id', goal: 'goal_id', version: 'version' })
    .select(db.raw("DATE_FORMAT(day, '%Y-%m-%d') as day"))
    .sum({ exposed: 'exposed', converters: 'converters' })
  return rows.map((row) => amongRow.parse(row))
}

/** Those who saw each version of a round, by what they came with. */
export async function exposedByDevice(
  db: Knex,
  crowd: number,
  round: RoundId,
): Promise<{ device: string; version: VersionId; exposed: number }[]> {
  const rows: unknown[] = await db('segment_tallies')
    .where({ crowd, round_id: round, goal_id: '', trait: 'device' })
    .groupBy('trait_value', 'version')
    .select({ device: 'trait_value', version: 'version' })
    .sum({ exposed: 'exposed' })
  const schema = z.object({ device: z.string(), version: versionIdSchema, exposed: z.coerce.number() })
  return rows.map((row) => schema.parse(row))
}

/** The same of many rounds, each by the goal that decides; of each value of a trait that enough visitors share. */
export async function segmentsOfRounds(
  db: Knex,
  rounds: readonly { readonly round: RoundId; readonly goal: GoalId }[],
): Promise<Map<RoundId, SegmentCounts[]>> {
  const found = new Map<RoundId, SegmentCounts[]>()
  if (rounds.length === 0) return found
  const rows: unknown[] = await db('segment_tallies')
    .where({ crowd: 0 })
    .where((any) => {
      for (const { round, goal } of rounds)
        void any.orWhere((one) => void one.where({ round_id: round }).whereIn('goal_id', ['', goal]))
    })
    .groupBy('round_id', 'trait', 'trait_value', 'version')
    .select({ round: 'round_id', trait: 'trait', value: 'trait_value', version: 'version' })
    .sum({ exposed: 'exposed', converters: 'converters' })
    .havingRaw('SUM(exposed) >= ?', [ENOUGH_TO_SUGGEST])
    .orderBy('exposed', 'desc')
    .limit(rounds.length * MOST_SEGMENTS)
  const schema = segmentRow.extend({ round: roundIdSchema })
  for (const row of rows) {
    const { round, ...counts } = schema.parse(row)
    found.set(round, [...(found.get(round) ?? []), counts])
  }
  return found
}

const ENOUGH_TO_SUGGEST = 100

/** What came from thousands of places is looked at by the first of them. */
const MOST_SEGMENTS = 600

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
