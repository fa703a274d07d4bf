import type { Knex } from 'knex'
import type { ResultView } from '@/contract/contract'
import type { readingWords } from '@/core/experiment'
import {
  guardSentence,
  leader,
  read,
  readGuard,
  readWorth,
  sentence,
  variantSentence,
  type ArmCounts,
  type Evidence,
  type Result,
  type Round,
} from '@/core/experiment'
import { stepId, VISITS, type Goal } from '@/core/goals'
import type { GoalId } from '@/core/ids'
import { dayCounts, reachedBy, type DayCounts } from '../stores/results'
import { plannedVisitors } from '../stores/rehearsals'
import { readSettings } from '../stores/settings'
import { namesFor } from './test-facts'

const DAY = 86_400_000

/** A round's result for one goal and one source, with its history by day. `null` when the round counts no such goal. */
export async function resultOf(
  db: Knex,
  round: { snapshot: Round; started_at: Date; ended_at: Date | null },
  source: number,
  goalId: GoalId | null,
): Promise<{ view: ResultView; result: Result; goal: Goal } | null> {
  const { snapshot } = round
  const { design, versions, goals } = snapshot
  // A rehearsal reads by its own plan, which was fixed before its first visitor came, not by that of the live test.
  const plannedTotal = source === 0 ? snapshot.plannedTotal : ((await plannedVisitors(db, source)) ?? snapshot.plannedTotal)
  const goal = goals.find(({ id }) => id === (goalId ?? design.primary))
  if (goal === undefined) return null
  const counts = await dayCounts(db, source, snapshot.id, goal.id)
  const byDay = [...new Set(counts.map(({ day }) => day))].sort()
  const elapsed = ((round.ended_at ?? new Date()).getTime() - round.started_at.getTime()) / DAY
  const days = source === 0 ? elapsed : byDay.length
  const evidenceUpTo = (until: string, whole: number): Evidence => ({
    arms: armsUpTo(design.arms, counts, until),
    days: whole,
    smallestEffect: design.smallestEffect,
    plannedTotal,
  })
  const last = byDay.at(-1) ?? ''
  const evidence = evidenceUpTo(last, days)
  const result = read(evidence)
  const names = namesFor(design, versions, goals)
  const going = round.ended_at === null
  const guards = goal.id === design.primary ? await guardsOf(db, round, source, evidence) : []
  const broken = guards.map(({ goal: { id }, margin, variants }) => {
    const worse = variants.filter(({ reading }) => reading === 'broken').map(({ version }) => version)
    return guardSentence(names.goal(id), margin, worse, names)
  })
  const history = byDay.map((day, index) => ({ day, at: read(evidenceUpTo(day, index + 1)) }))

  const view: ResultView = {
    round: snapshot.id,
    roundNumber: snapshot.number,
    source,
    goal: { id: goal.id, name: goal.name, primary: goal.id === design.primary },
    sentence: [sentence(result, goal.name, names, going), ...broken].filter(Boolean).join(' '),
    rates: result.rates.map((rate, index) => ({
      ...rate,
      interval: pair(rate.interval),
      name: names.version(rate.version),
      assigned: evidence.arms[index]?.assigned ?? 0,
    })),
    variants: result.variants.map((variant) => ({
      version: variant.version,
      name: names.version(variant.version),
      reading: variant.reading,
      words: variantSentence(variant, result, goal.name, names, going),
      lift: variant.lift,
      liftInterval: pair(variant.liftInterval),
      pValue: variant.pValue,
      once:
        variant.once === null
          ? null
          : { lift: pair(variant.once.lift), difference: [...variant.once.difference], pValue: variant.once.pValue },
      daysMore: variant.daysMore,
    })),
    split: result.split,
    guards: guards.map(({ goal: guard, margin, variants }) => ({ goal: guard.id, name: guard.name, margin, variants })),
    worth: await worthOfRound(db, round, source, counts, goal, plannedTotal),
    funnel: await funnelOfRound(db, snapshot.id, source, goal, goals, design),
    smallestEffect: design.smallestEffect,
    days,
    overTime: result.variants.map(({ version }) => ({
      version,
      points: history.flatMap(({ day, at }) => {
        const variant = at.variants.find((one) => one.version === version)
        if (
          variant?.liftInterval == null ||
          variant.lift === null ||
          variant.wait === 'fewExposed' ||
          variant.wait === 'fewConverters'
        )
          return []
        const [lower, upper] = variant.liftInterval
        return [{ day, lift: variant.lift, lower, upper, cleared: variant.reading === 'better' || variant.reading === 'worse' }]
      }),
    })),
    arrivals: byDay.map((day) => ({
      day,
      counts: design.arms.map(({ version }) => ({
        version,
        exposed: counts.find((row) => row.day === day && row.version === version)?.exposed ?? 0,
      })),
    })),
  }
  return { view, result, goal }
}

/** The goals that must not get worse, read by the same sequence. */
async function guardsOf(db: Knex, { snapshot }: { snapshot: Round }, source: number, of: Evidence) {
  const { design, goals } = snapshot
  return Promise.all(
    design.guards.flatMap(({ goal: id, margin }) => {
      const goal = goals.find((one) => one.id === id)
      if (goal === undefined) return []
      return [
        dayCounts(db, source, snapshot.id, id).then((counts) => {
          const last =
            counts
              .map(({ day }) => day)
              .sort()
              .at(-1) ?? ''
          const result = read({ ...of, arms: armsUpTo(design.arms, counts, last) })
          const variants = readGuard(result, margin).map(({ version, reading }) => {
            const found = result.variants.find((one) => one.version === version)
            return { version, reading, lift: found?.lift ?? null, liftInterval: pair(found?.liftInterval ?? null) }
          })
          return { goal, margin, variants }
        }),
      ]
    }),
  )
}

async function worthOfRound(
  db: Knex,
  { snapshot }: { snapshot: Round },
  source: number,
  counts: readonly DayCounts[],
  goal: Goal,
  plannedTotal: number,
): Promise<ResultView['worth']> {
  const visits = await reachedBy(db, source, snapshot.id, [VISITS.id])
  const arms = snapshot.design.arms.map(({ version }) => {
    const mine = counts.filter((row) => row.version === version)
    const sum = (of: 'exposed' | 'worth' | 'worthSquared' | 'visitsWorth') => mine.reduce((total, row) => total + row[of], 0)
    const again = visits.find((row) => row.version === version)
    return {
      version,
      exposed: sum('exposed'),
      worth: sum('worth'),
      worthSquared: sum('worthSquared'),
      // The visit of the first exposure, and those after it.
      visits: sum('exposed') + (again?.times ?? 0),
      // Of somebody who came again v times, (1 + v)² = 1 + 2v + v².
      visitsSquared: sum('exposed') + 2 * (again?.times ?? 0) + (again?.worthSquared ?? 0),
      visitsWorth: sum('visitsWorth'),
    }
  })
  return {
    in: goal.worthIn,
    currency: (await readSettings(db)).currency,
    arms: readWorth(arms, plannedTotal).map(({ difference, visitDifference, ...rest }) => ({
      ...rest,
      difference: pair(difference),
      visitDifference: pair(visitDifference),
    })),
  }
}

/** For a funnel, how many of each version passed each step. */
async function funnelOfRound(
  db: Knex,
  round: Round['id'],
  source: number,
  goal: Goal,
  goals: readonly Goal[],
  design: Round['design'],
): Promise<ResultView['funnel']> {
  if (goal.wiring.kind !== 'steps') return null
  const ids = goal.wiring.goals.map((_, index) => stepId(goal.id, index + 1))
  const reached = await reachedBy(db, source, round, ids)
  return {
    steps: goal.wiring.goals.map((id) => goals.find((one) => one.id === id)?.name ?? 'a goal that is gone'),
    passed: design.arms.map(({ version }) => ({
      version,
      counts: ids.map((id) => reached.find((row) => row.goal === id && row.version === version)?.converters ?? 0),
    })),
  }
}

function armsUpTo(arms: Round['design']['arms'], counts: readonly DayCounts[], until: string): ArmCounts[] {
  return arms.map(({ version, weight }) => {
    const mine = counts.filter((row) => row.version === version && row.day <= until)
    const sum = (of: 'assigned' | 'exposed' | 'converters') => mine.reduce((total, row) => total + row[of], 0)
    return { version, weight, assigned: sum('assigned'), exposed: sum('exposed'), converters: sum('converters') }
  })
}

function pair(interval: readonly [number, number] | null): [number, number] | null {
  return interval === null ? null : [interval[0], interval[1]]
}

/** The reading of the test as a whole: that of the variant that its sentence names first. */
export function wholeReading(result: Result): { reading: keyof typeof readingWords; daysMore: number | null } {
  const first = leader(result) ?? result.variants[0]
  return { reading: first?.reading ?? 'tooEarly', daysMore: first?.daysMore ?? null }
}
