import type { Knex } from 'knex'
import * as z from 'zod'
import { contract, rehearsalView, type RehearsalView } from '@/contract/contract'
import { armName, laterEpochSchema, roundNow, roundSchema } from '@/core/experiment'
import { roundIdSchema, type RoundId } from '@/core/ids'
import { jsonColumn } from '../database/json-column'
import { testId } from './tests'

export const planSchema = contract['rehearsal.start'].input.shape.plan

const rowSchema = z.object({
  id: z.number(),
  test_number: z.number(),
  round_id: roundIdSchema,
  plan: jsonColumn(planSchema),
  status: z.enum(['waiting', 'running', 'done', 'cancelled', 'failed']),
  sent: z.number(),
  message: z.string(),
  found: jsonColumn(rehearsalView.shape.found),
  created_at: z.date(),
  created_by: z.string(),
})
export type RehearsalRow = z.infer<typeof rowSchema>

const roundOfRehearsal = z.object({
  name: z.string(),
  snapshot: jsonColumn(roundSchema),
  reweighed: jsonColumn(z.array(laterEpochSchema)),
})

export async function listRehearsals(db: Knex, test: number | null): Promise<RehearsalView[]> {
  const query = db('rehearsals as h')
    .join('tests as t', 't.number', 'h.test_number')
    .join('rounds as r', 'r.id', 'h.round_id')
    .orderBy('h.id', 'desc')
    .limit(50)
    .select('h.*', 't.name', 'r.snapshot', 'r.reweighed')
  const rows: unknown[] = test === null ? await query : await query.where('h.test_number', test)
  return rows.map((raw) => {
    const row = rowSchema.parse(raw)
    const { name, snapshot: began, reweighed } = roundOfRehearsal.parse(raw)
    const { design, versions } = roundNow(began, reweighed)
    return {
      id: row.id,
      test: testId(row.test_number),
      testName: name,
      plan: row.plan,
      status: row.status,
      sent: row.sent,
      message: row.message,
      found: row.found,
      by: row.created_by,
      at: row.created_at.toISOString(),
      versions: row.plan.rates.map(({ version }) => ({ id: version, name: armName(design, versions, version) })),
    }
  })
}

export async function nextRehearsal(db: Knex): Promise<RehearsalRow | null> {
  const row: unknown = await db('rehearsals').whereIn('status', ['waiting', 'running']).orderBy('id').first()
  return row === undefined ? null : rowSchema.parse(row)
}

export async function rehearsalStatus(db: Knex, id: number): Promise<RehearsalRow['status'] | null> {
  const row: unknown = await db('rehearsals').where({ id }).first('status')
  return row === undefined ? null : rowSchema.pick({ status: true }).parse(row).status
}

/** What a rehearsal’s result is read by, fixed before its first visitor came; `null` where there is no such rehearsal. */
export async function planOf(
  db: Knex,
  id: number,
): Promise<{ readonly visitors: number; readonly at: Date; readonly round: RoundId } | null> {
  const row: unknown = await db('rehearsals').where({ id }).first('plan', 'created_at', 'round_id')
  if (row === undefined) return null
  const { plan, created_at: at, round_id: round } = rowSchema.pick({ plan: true, created_at: true, round_id: true }).parse(row)
  return { visitors: plan.visitors, at, round }
}
