import type { Knex } from 'knex'
import * as z from 'zod'
import { goalSchema, type Goal } from '@/core/goals'
import { jsonColumn } from '../database/json-column'

const rowSchema = z.object({ body: jsonColumn(goalSchema) })

export async function listGoals(db: Knex): Promise<Goal[]> {
  const rows: unknown[] = await db('goals').orderBy('name').limit(500).select('body')
  return rows.map((row) => rowSchema.parse(row).body)
}

export async function createGoal(trx: Knex, goal: Goal): Promise<void> {
  await trx('goals').insert({ id: goal.id, name: goal.name, body: JSON.stringify(goal), created_at: new Date() })
}
