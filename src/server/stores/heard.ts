import type { Knex } from 'knex'
import * as z from 'zod'
import { goalIdSchema, type GoalId } from '@/core/ids'
import { subjects } from '@/core/ledger'

const rowSchema = z.object({
  visitor: z.instanceof(Buffer).transform((bytes) => bytes.toString('hex')),
  goal: goalIdSchema,
})

/** Who reached these goals on that day or since, as counting found; those of the newest days, the last of them last. */
export async function reachedSince(
  db: Knex,
  goals: readonly GoalId[],
  day: string,
  most: number,
): Promise<z.output<typeof rowSchema>[]> {
  const rows: unknown[] = await db('firsts')
    .whereIn('subject', goals.map(subjects.goal))
    .where('day', '>=', day)
    .orderBy('day', 'desc')
    .limit(most)
    .select('visitor', db.raw('SUBSTRING(subject, 3) AS goal'))
  return rows.map((row) => rowSchema.parse(row)).reverse()
}
