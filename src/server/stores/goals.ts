import type { Knex } from 'knex'
import * as z from 'zod'
import { goalSchema, libraryOf, partsFault, partsOfGoal, withParts, type Goal } from '@/core/goals'
import { goalIdSchema, type GoalId } from '@/core/ids'
import type { LiveTransaction } from '../database/go-live'
import { jsonColumn } from '../database/json-column'
import { Failure, missing } from '../failure'

const rowSchema = z.object({
  id: goalIdSchema,
  /** As it is being edited. */
  body: jsonColumn(goalSchema),
  /** As it counts; `null` before it is published for the first time. */
  published: jsonColumn(goalSchema.nullable()),
  archived: z.coerce.boolean(),
  lock_version: z.number(),
  updated_at: z.date(),
  updated_by: z.string(),
})
export type GoalRow = z.infer<typeof rowSchema>

/** More than a library can hold with sense; what is beyond is not counted. */
export const MOST_GOALS = 500

/** Every goal as it is being edited, by name, but for those in the bin; archived ones where asked for. */
export async function goalRows(db: Knex, narrow: (query: Knex.QueryBuilder) => void = () => undefined): Promise<GoalRow[]> {
  const rows: unknown[] = await db('goals')
    .whereNull('binned_at')
    .modify(narrow)
    .orderBy([{ column: 'archived' }, { column: 'name' }])
    .limit(MOST_GOALS)
  return rows.map((row) => rowSchema.parse(row))
}

/** The goals that can be chosen, as they are being edited. */
export async function listGoals(db: Knex): Promise<Goal[]> {
  return (await goalRows(db, (query) => void query.where({ archived: 0 }))).map(({ body }) => body)
}

/** The goals that count. */
export async function publishedGoals(db: Knex): Promise<Goal[]> {
  const rows = await goalRows(db, (query) => void query.where({ archived: 0 }).whereNotNull('published'))
  return rows.flatMap(({ published }) => published ?? [])
}

export async function holdGoal(trx: Knex.Transaction, id: GoalId): Promise<GoalRow> {
  const row: unknown = await trx('goals').where({ id, binned_at: null }).forUpdate().first()
  if (row === undefined) throw missing('This goal')
  return rowSchema.parse(row)
}

/**
 * Refuses goals that cannot be made of what they name, themselves among it. The library is held meanwhile: two that are
 * changed at once could each be made of the other.
 */
export async function refuseParts(trx: Knex.Transaction, goals: readonly Goal[]): Promise<void> {
  if (goals.every((goal) => partsOfGoal(goal).length === 0)) return
  await trx('goals').orderBy('id').forUpdate().select('id')
  const rows = await goalRows(trx)
  const library = libraryOf([...rows.map(({ body }) => body), ...goals])
  for (const goal of goals) {
    const fault = partsFault(goal, library)
    if (fault !== null) throw new Failure('input', `“${goal.name}”: ${fault}`)
  }
}

export async function createGoal(trx: Knex, goal: Goal, by: string, live = false): Promise<void> {
  const body = JSON.stringify(goal)
  // One that was thrown away, and comes in again, is there once.
  await trx('goals').where({ id: goal.id }).whereNotNull('binned_at').delete()
  await trx('goals').insert({
    id: goal.id,
    name: goal.name,
    body,
    published: live ? body : null,
    created_at: new Date(),
    updated_at: new Date(),
    updated_by: by,
  })
}

/** Makes goals count as they are now, with all that they are made of. @returns those that did not before */
export async function publishGoals(trx: LiveTransaction, ids: readonly GoalId[], by: string): Promise<Goal[]> {
  const rows = await goalRows(trx, (query) => void query.where({ archived: 0 }))
  const needed = new Set(withParts(ids, libraryOf(rows.map(({ body }) => body))).map(({ id }) => id))
  const changed = rows.filter(({ id, body, published }) => needed.has(id) && JSON.stringify(body) !== JSON.stringify(published))
  for (const { id, body } of changed)
    await trx('goals')
      .where({ id })
      .update({ published: JSON.stringify(body), updated_at: new Date(), updated_by: by })
  return changed.map(({ body }) => body)
}
