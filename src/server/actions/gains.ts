import type { Knex } from 'knex'
import { EVERYBODY, segmentsIn, type Segment } from '@/core/decide'
import {
  audienceSize,
  forecast,
  gainRound,
  renewed,
  shareOf,
  trafficAmong,
  type GainPlan,
  type Personalization,
  type Renewed,
} from '@/core/experiment'
import { libraryOf, withParts, type Goal } from '@/core/goals'
import { roundIdSchema, type RoundId, type SegmentId } from '@/core/ids'
import { newId } from '../new-id'
import { addGain, closeGains, lastHeld, numberOfGains, readPlan } from '../stores/gains'
import { publishedGoals, publishGoals } from '../stores/goals'
import { recentVisitors } from '../stores/recent-visitors'
import { segmentsNow } from '../stores/segments'
import { livePersonalizations, writePersonalization } from '../stores/versions'
import type { LiveTransaction } from '../database/go-live'
import { trafficAt } from './test-facts'

type Wanted = Pick<Personalization, 'id' | 'document' | 'node'> & Pick<Parameters<typeof renewed>[1], 'rules'>

const newRound = (): RoundId => roundIdSchema.parse(`g-${newId()}`)

/**
 * Puts rules live and opens and closes what is counted of them, in the transaction of whatever changes them.
 *
 * @param changed segments that now ask something else
 */
export async function putRulesLive(
  trx: LiveTransaction,
  wanted: Wanted,
  { plan, author, changed }: { plan: GainPlan; author: string; changed?: ReadonlySet<SegmentId> },
): Promise<void> {
  const before = (await livePersonalizations(trx, wanted.document)).find(({ id }) => id === wanted.id) ?? null
  const held = await lastHeld(trx, wanted.id)
  const next = renewed(before, { ...wanted, plan }, newRound, { held, ...(changed === undefined ? {} : { changed }) })
  const counted = [...(plan.primary === null ? [] : [plan.primary]), ...plan.watched]
  // What was made or changed of a goal goes live with the rules that are measured by it, and not with a segment.
  if (changed === undefined) await publishGoals(trx, counted, author)
  await closeGains(trx, { rounds: next.closes })
  await open(trx, next, plan)
  await writePersonalization(trx, next.personalization, author)
}

async function open(trx: Knex.Transaction, { personalization: of, opens }: Renewed, plan: GainPlan): Promise<void> {
  if (opens.length === 0) return
  const library = libraryOf(await publishedGoals(trx))
  const goals = withParts([...new Set([...(of.primary === null ? [] : [of.primary]), ...of.watched])], library)
  const planned = await plannedFor(trx, of, goals, await segmentsNow(trx))
  for (const { round, rule } of opens) {
    const shown = rule === null ? '' : (of.rules[rule]?.version.id ?? '')
    const snapshot = gainRound({ id: round, rule, number: (await numberOfGains(trx, of.id, shown)) + 1 }, of, {
      goals,
      plannedTotal: planned(rule, plan),
      smallestEffect: plan.smallestEffect,
    })
    await addGain(trx, of.id, snapshot)
  }
}

/** How many visitors each of them can be planned for, by whom the rules fit lately. */
async function plannedFor(trx: Knex.Transaction, of: Personalization, goals: readonly Goal[], segments: readonly Segment[]) {
  const traffic = await trafficAt(
    trx,
    of.document,
    goals.find(({ id }) => id === of.primary),
  )
  const recent = await recentVisitors(trx)
  return (rule: number | null, { smallestEffect }: GainPlan): number => {
    const condition =
      rule === null
        ? { kind: 'any' as const, of: of.rules.map((one) => one.condition) }
        : (of.rules[rule]?.condition ?? EVERYBODY)
    const share = shareOf(audienceSize(condition, segments, recent))
    const { design } = gainRound({ id: 'g' as RoundId, rule, number: 1 }, of, { goals: [], plannedTotal: 1, smallestEffect })
    return forecast(design, trafficAmong(traffic, share)).plannedTotal
  }
}

/** Rules that name segments which now ask something else are counted anew, though nothing of their own has changed. */
export async function renewNaming(trx: LiveTransaction, changed: ReadonlySet<SegmentId>, author: string): Promise<void> {
  for (const live of await livePersonalizations(trx)) {
    if (!live.rules.some(({ condition }) => segmentsIn(condition).some((id) => changed.has(id)))) continue
    const { plan } = await readPlan(trx, live.id)
    const { id, document, node, rules, holdout, primary, watched } = live
    // As it is live, whatever is planned for the next publish.
    await putRulesLive(
      trx,
      { id, document, node, rules },
      { plan: { ...plan, holdout, primary, watched: [...watched] }, author, changed },
    )
  }
}
