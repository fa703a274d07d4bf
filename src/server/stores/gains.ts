import type { Knex } from 'knex'
import * as z from 'zod'
import { BY_RULE, gainPlanSchema, USUAL_PLAN, type GainPlan, type Personalization, type Round } from '@/core/experiment'
import type { DocumentId, GoalId, RoundId } from '@/core/ids'
import { jsonColumn } from '../database/json-column'
import { gainRows, type GainRow } from './tests'
import { publishedGoals } from './goals'

const planRow = z.object({ plan: jsonColumn(gainPlanSchema), lock_version: z.number() })

/** As it was last saved, or as it is before anybody says anything. */
export async function readPlan(db: Knex, personalization: string, held = false): Promise<{ plan: GainPlan; lock: number }> {
  const query = db('gain_plans').where({ personalization })
  const row: unknown = await (held ? query.forUpdate() : query).first('plan', 'lock_version')
  if (row === undefined) return { plan: { ...USUAL_PLAN, primary: await usualGoal(db) }, lock: 0 }
  const { plan, lock_version: lock } = planRow.parse(row)
  return { plan, lock }
}

/** The same for many, by personalization. */
export async function readPlans(db: Knex, personalizations: readonly string[]): Promise<(id: string) => GainPlan> {
  const rows: unknown[] =
    personalizations.length === 0 ? [] : await db('gain_plans').whereIn('personalization', [...personalizations])
  const schema = planRow.extend({ personalization: z.string() })
  const plans = new Map(rows.map((row) => schema.parse(row)).map(({ personalization, plan }) => [personalization, plan]))
  const usual: GainPlan = { ...USUAL_PLAN, primary: await usualGoal(db) }
  return (id) => plans.get(id) ?? usual
}

export async function writePlan(
  trx: Knex.Transaction,
  {
    personalization,
    document,
    plan,
    lock,
    by,
  }: { personalization: string; document: DocumentId; plan: GainPlan; lock: number; by: string },
): Promise<void> {
  await trx('gain_plans')
    .insert({
      ...{ personalization, document_id: document, plan: JSON.stringify(plan), lock_version: lock },
      ...{ updated_at: new Date(), updated_by: by },
    })
    .onConflict('personalization')
    .merge()
}

/** That by which most tests decide; else the first there is. */
async function usualGoal(db: Knex): Promise<GoalId | null> {
  const goals = await publishedGoals(db)
  const rows: { goal: string | null }[] = await db('tests')
    .select(db.raw("JSON_VALUE(design, '$.primary') AS goal"))
    .groupBy('goal')
    .orderByRaw('COUNT(*) DESC, goal')
    .limit(50)
  const known = new Map<string, GoalId>(goals.map(({ id }) => [id, id]))
  return rows.flatMap(({ goal }) => (goal === null ? [] : (known.get(goal) ?? [])))[0] ?? goals[0]?.id ?? null
}

/** Those that are counted now, of all parts or of these. */
export async function openGains(db: Knex, personalizations?: readonly string[]): Promise<GainRow[]> {
  if (personalizations?.length === 0) return []
  return gainRows(db, (query) => {
    void query.whereNull('ended_at')
    if (personalizations !== undefined) void query.whereIn('personalization', [...personalizations])
  })
}

const MOST_ROUNDS = 300

/** Of one part, those that are counted now first, then the newest. */
export async function gainsOf(db: Knex, personalization: string): Promise<GainRow[]> {
  return gainRows(
    db,
    (query) => void query.where({ personalization }).orderByRaw('ended_at IS NOT NULL, started_at DESC').limit(MOST_ROUNDS),
  )
}

/** Whom it held out when that was last counted; `null` where it never was. */
export async function lastHeld(db: Knex, personalization: string): Promise<Pick<Personalization, 'holdout' | 'drawn'> | null> {
  const [last] = await gainRows(
    db,
    (query) =>
      void query
        .where({ personalization })
        .orderBy([{ column: 'started_at', order: 'desc' }])
        .limit(1),
  )
  if (last === undefined) return null
  return { holdout: last.snapshot.design.arms[0]?.weight ?? 0, drawn: last.snapshot.drawnAgain }
}

/** What a rule is known by here; '' for all together. */
export const ruleOf = ({ design }: Pick<Round, 'design'>): string => {
  const version = design.arms[1]?.version ?? ''
  return version === BY_RULE ? '' : version
}

export async function addGain(trx: Knex.Transaction, personalization: string, snapshot: Round): Promise<void> {
  await trx('rounds').insert({
    ...{ id: snapshot.id, test_number: null, number: snapshot.number, snapshot: JSON.stringify(snapshot) },
    ...{ personalization, rule: ruleOf(snapshot), started_at: new Date() },
  })
}

export async function numberOfGains(db: Knex, personalization: string, rule: string): Promise<number> {
  const row: unknown = await db('rounds').where({ personalization, rule }).count({ total: '*' }).first()
  return z.object({ total: z.coerce.number() }).parse(row).total
}

export async function closeGains(
  trx: Knex,
  where: { readonly rounds: readonly RoundId[] } | { readonly documents: readonly string[] },
): Promise<void> {
  const query = trx('rounds').whereNull('ended_at')
  if ('rounds' in where) void query.whereIn('id', [...where.rounds])
  else
    void query.whereIn(
      'personalization',
      trx('personalizations')
        .whereIn('document_id', [...where.documents])
        .select('id'),
    )
  await query.update({ ended_at: new Date() })
}
