import type { Knex } from 'knex'
import * as z from 'zod'
import { goalSchema } from '@/core/goals'
import { publishedGoals } from './goals'
import { readSettings } from './settings'

/** What the whole site counts by, as it is kept. */
export const rulesBody = z.object({ timeZone: z.string(), bounceSeconds: z.number(), goals: z.array(goalSchema) })

/**
 * Notes what the whole site counts by from now on, where that has changed: every release does. What is noted first holds
 * for all that was before.
 */
export async function noteRules(trx: Knex): Promise<void> {
  const { timeZone, bounceSeconds } = await readSettings(trx)
  const goals = (await publishedGoals(trx)).sort((one, other) => (one.id < other.id ? -1 : 1))
  const body = JSON.stringify({ timeZone, bounceSeconds, goals } satisfies z.input<typeof rulesBody>)
  const last: unknown = await trx('counting_rules').orderBy('number', 'desc').first('body')
  if (last !== undefined && z.object({ body: z.string() }).parse(last).body === body) return
  await trx('counting_rules').insert({ since: last === undefined ? new Date(0) : new Date(), body })
}
