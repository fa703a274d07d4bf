import { readThrough, type Reading, type VariantResult } from '../experiment'
import { MadeUpTests, type MadeUpTest } from './made-up-tests'
import { weekdayWeight } from './visitors'
import { rateOn, seenShare, type Mishap } from './mishaps'

export interface RunsPlan {
  readonly visitors: number
  readonly days: number
  readonly seed: number
  readonly smallestEffect: number
  readonly plannedTotal: number
  /** Traffic on a day of the weekend against another; every day is alike where nothing is said. */
  readonly weekends?: number
  /** The original first. */
  readonly arms: readonly { readonly rate: number; readonly weight: number; readonly mishap: Mishap }[]
}

/** How a variant was read at the end, beside what is true of it. */
export const outcomes = ['right', 'tooEarly', 'alarm', 'wrong'] as const
export type Outcome = (typeof outcomes)[number]

export interface RunsOfVariant {
  /** In the long run, against the original. */
  readonly truth: number
  readonly counts: { readonly [Of in Outcome]: number }
  /** On which day, from one, it was first called better or worse; the runs in which it never was left out. */
  readonly calledOn: readonly number[]
}

export interface Runs {
  readonly done: number
  readonly variants: readonly RunsOfVariant[]
}

/**
 * The same test a thousand times, each with other visitors: how often what a reader is told at the end is right. Told after
 * each, so that whoever waits sees it come.
 */
export function* manyRuns(plan: RunsPlan, runs: number): Generator<Runs, void, undefined> {
  const tests = new MadeUpTests(plan.seed)
  const test = testOf(plan)
  const truths = plan.arms.slice(1).map((arm) => truthOf(arm, plan.arms[0]?.rate ?? 0))
  const variants = truths.map((truth) => ({
    truth,
    counts: { right: 0, tooEarly: 0, alarm: 0, wrong: 0 },
    calledOn: [] as number[],
  }))
  for (let done = 1; done <= runs; done++) {
    const results = readThrough(tests.looks(test))
    const last = results.at(-1)
    variants.forEach((variant, at) => {
      const found = last?.variants[at]
      if (found === undefined) return
      variant.counts[outcomeOf(found, variant.truth, plan.smallestEffect)]++
      const first = results.findIndex(({ variants: read }) => isCalled(read[at]?.reading))
      if (first >= 0) variant.calledOn.push(first + 1)
    })
    yield { done, variants }
  }
}

function testOf({ visitors, days, smallestEffect, plannedTotal, arms, weekends }: RunsPlan): MadeUpTest {
  const original = arms[0]?.rate ?? 0
  const week = Array.from({ length: days }, (_, day) => (weekends === undefined ? 1 : weekdayWeight(day % 7, { weekends })))
  const mean = week.reduce((sum, weight) => sum + weight, 0) / days
  return {
    rates: arms.map(({ rate }) => rate),
    perDay: visitors / days,
    traffic: (day) => (week[day] ?? mean) / mean,
    ...{ days, plannedTotal, effect: smallestEffect },
    weights: (day) => (day === 0 ? arms.map(({ weight }) => weight) : null),
    seen: (at) => seenShare(arms[at]?.mishap ?? 'none'),
    season: (day, at) => {
      const arm = arms[at]
      return arm === undefined || arm.rate === 0 ? 1 : rateOn(arm.mishap, arm.rate, original, day) / arm.rate
    },
  }
}

/** What the variant adds in the long run. */
function truthOf({ rate, mishap }: RunsPlan['arms'][number], original: number): number {
  if (mishap === 'fades') return 0
  if (original === 0) return 0
  return (mishap === 'deadButton' ? 0 : rate) / original - 1
}

const isCalled = (reading: Reading | undefined) => reading === 'better' || reading === 'worse'

function outcomeOf({ reading }: VariantResult, truth: number, smallestEffect: number): Outcome {
  switch (reading) {
    case 'notToBeTrusted':
      return 'alarm'
    case 'tooEarly':
      return 'tooEarly'
    case 'better':
      return truth > 0 ? 'right' : 'wrong'
    case 'worse':
      return truth < 0 ? 'right' : 'wrong'
    case 'noDifference':
      return Math.abs(truth) < smallestEffect ? 'right' : 'wrong'
    default:
      return reading satisfies never
  }
}
