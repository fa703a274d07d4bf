import type { Knex } from 'knex'
import type { ResultView } from '@/contract/contract'
import type { readingWords } from '@/core/experiment'
import {
  leader,
  read,
  sentence,
  variantSentence,
  type ArmCounts,
  type Evidence,
  type Result,
  type Round,
} from '@/core/experiment'
import type { Goal } from '@/core/goals'
import type { GoalId } from '@/core/ids'
import { dayCounts, type DayCounts } from '../stores/results'
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
  const { design, versions, goals, plannedTotal } = snapshot
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
  const history = byDay.map((day, index) => ({ day, at: read(evidenceUpTo(day, index + 1)) }))

  const view: ResultView = {
    round: snapshot.id,
    roundNumber: snapshot.number,
    source,
    goal: { id: goal.id, name: goal.name, primary: goal.id === design.primary },
    sentence: sentence(result, goal.name, names),
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
      words: variantSentence(variant, result, goal.name, names),
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
