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
  type WorthCounts,
} from '@/core/experiment'
import { stepId, type Goal } from '@/core/goals'
import type { GoalId } from '@/core/ids'
import { convertersOf, countsFor, rowsOfRounds, type DayCounts, type RoundRows } from '../stores/results'
import { plannedVisitors } from '../stores/rehearsals'
import { openSpans } from '../ledger/rules'
import { readSettings } from '../stores/settings'
import type { RoundRow } from '../stores/tests'
import { namesFor } from './test-facts'

const DAY = 86_400_000

/** A round’s result for one goal and one source, with its history by day. `null` when the round counts no such goal. */
export async function resultOf(db: Knex, round: RoundRow, source: number, goalId: GoalId | null): Promise<Read | null> {
  const { id, plannedTotal } = round.snapshot
  const rows = (await rowsOfRounds(db, source, [id])).get(id) ?? []
  // A rehearsal reads by its own plan, which was fixed before its first visitor came, not by that of the live test.
  const planned = source === 0 ? plannedTotal : ((await plannedVisitors(db, source)) ?? plannedTotal)
  const { currency } = await readSettings(db)
  return readRound(round, { source, goal: goalId }, { rows, plannedTotal: planned, currency, now: new Date() })
}

export interface Read {
  readonly view: ResultView
  readonly result: Result
  readonly goal: Goal
}

/** The same from what has been read, for many rounds at once. */
export function readRound(
  round: RoundRow,
  { source, goal: goalId }: { source: number; goal: GoalId | null },
  { rows, plannedTotal, currency, now }: { rows: RoundRows; plannedTotal: number; currency: string; now: Date },
): Read | null {
  const { snapshot } = round
  const { design, versions, goals } = snapshot
  const goal = goals.find(({ id }) => id === (goalId ?? design.primary))
  if (goal === undefined) return null
  const counts = countsFor(rows, goal.id)
  const byDay = [...new Set(counts.map(({ day }) => day))].sort()
  // Days of a pause are no days of the test.
  const elapsed = openSpans(round).reduce((sum, { from, to }) => sum + ((to ?? now).getTime() - from.getTime()) / DAY, 0)
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
  const guards = goal.id === design.primary ? guardsOf(round, rows, evidence) : []
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
    worth: worthOfRound(round, counts, { goal, plannedTotal, currency }),
    funnel: funnelOfRound(rows, goal, goals, design),
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
function guardsOf({ snapshot }: { snapshot: Round }, rows: RoundRows, of: Evidence) {
  const { design, goals } = snapshot
  return design.guards.flatMap(({ goal: id, margin }) => {
    const goal = goals.find((one) => one.id === id)
    if (goal === undefined) return []
    const counts = countsFor(rows, id)
    const result = read({ ...of, arms: armsUpTo(design.arms, counts, counts.at(-1)?.day ?? '') })
    const variants = readGuard(result, margin).map(({ version, reading }) => {
      const found = result.variants.find((one) => one.version === version)
      return { version, reading, lift: found?.lift ?? null, liftInterval: pair(found?.liftInterval ?? null) }
    })
    return [{ goal, margin, variants }]
  })
}

function worthOfRound(
  { snapshot }: { snapshot: Round },
  counts: readonly DayCounts[],
  { goal, plannedTotal, currency }: { goal: Goal; plannedTotal: number; currency: string },
): ResultView['worth'] {
  const arms = snapshot.design.arms.map(({ version }) => {
    const mine = counts.filter((row) => row.version === version)
    const sum = (of: Exclude<keyof WorthCounts, 'version'>) => mine.reduce((total, row) => total + row[of], 0)
    return {
      version,
      exposed: sum('exposed'),
      worth: sum('worth'),
      worthSquared: sum('worthSquared'),
      visits: sum('visits'),
      visitsSquared: sum('visitsSquared'),
      visitsWorth: sum('visitsWorth'),
    }
  })
  return {
    in: goal.worthIn,
    currency,
    arms: readWorth(arms, plannedTotal).map(({ difference, visitDifference, ...rest }) => ({
      ...rest,
      difference: pair(difference),
      visitDifference: pair(visitDifference),
    })),
  }
}

/** For a funnel, how many of each version passed each step. */
function funnelOfRound(rows: RoundRows, goal: Goal, goals: readonly Goal[], design: Round['design']): ResultView['funnel'] {
  if (goal.wiring.kind !== 'steps') return null
  const ids = goal.wiring.goals.map((_, index) => stepId(goal.id, index + 1))
  return {
    steps: goal.wiring.goals.map((id) => goals.find((one) => one.id === id)?.name ?? 'a goal that is gone'),
    passed: design.arms.map(({ version }) => ({ version, counts: ids.map((id) => convertersOf(rows, id, version)) })),
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
