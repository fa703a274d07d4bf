import { MadeUpTests } from './made-up-tests'
import { manyRuns, type Runs, type RunsPlan } from './many-runs'
import type { Mishap } from './mishaps'

const RUNS = 120
const plan = (rates: readonly number[], mishap: Mishap = 'none', more: Partial<RunsPlan> = {}): RunsPlan => ({
  ...{ visitors: 40_000, days: 28, seed: 3, smallestEffect: 0.05, plannedTotal: 40_000 },
  arms: rates.map((rate, at) => ({ rate, weight: 10_000 / rates.length, mishap: at === 0 ? 'none' : mishap })),
  ...more,
})
function all(of: RunsPlan, runs = RUNS): Runs {
  let last: Runs = { done: 0, variants: [] }
  for (const so of manyRuns(of, runs)) last = so
  return last
}
const shares = (of: RunsPlan) => {
  const { done, variants } = all(of)
  return variants.map(({ counts }) => Object.fromEntries(Object.entries(counts).map(([name, many]) => [name, many / done])))
}

test('a large effect is read rightly, and sooner than a small one; where there is none hardly anything is called', () => {
  const [large] = shares(plan([0.1, 0.13]))
  expect(large?.right).toBeGreaterThan(0.95)
  const days = (rate: number) => {
    const called = all(plan([0.1, rate])).variants[0]?.calledOn ?? []
    return [...called].sort((one, other) => one - other)[Math.floor(called.length / 2)] ?? Infinity
  }
  expect(days(0.13)).toBeLessThan(days(0.115))
  const [none] = shares(plan([0.1, 0.1]))
  expect(none?.wrong).toBeLessThanOrEqual(0.05 + 3 * Math.sqrt((0.05 * 0.95) / RUNS))
})

test('a button that does not work is worse, reports that are lost raise the alarm, and a novelty that fades is seen as such', () => {
  expect(shares(plan([0.1, 0.12], 'deadButton'))[0]?.right).toBe(1)
  expect(shares(plan([0.1, 0.12], 'lost'))[0]?.alarm).toBeGreaterThan(0.99)
  const { variants } = all(plan([0.1, 0.2], 'fades'))
  // There is nothing in the long run, so calling it better is wrong: that is what the picture by days is for.
  expect([variants[0]?.truth, (variants[0]?.counts.wrong ?? 0) > 0]).toEqual([0, true])
})

test('the same seed tells the same, and it is told run by run', () => {
  const of = plan([0.1, 0.11, 0.12])
  expect(all(of, 20)).toEqual(all(of, 20))
  expect([...manyRuns(of, 5)].map(({ done }) => done)).toEqual([1, 2, 3, 4, 5])
  expect(all(of, 7).variants.map(({ counts }) => Object.values(counts).reduce((sum, many) => sum + many, 0))).toEqual([7, 7])
})

test('a quiet weekend brings fewer on two days of seven, and as many in all', () => {
  const of = { rates: [0.1, 0.1], perDay: 1000, days: 7, plannedTotal: 7000, weights: () => null }
  const traffic = (day: number) => (day > 4 ? 0 : 1.4)
  const came = new MadeUpTests(1)
    .looks({ ...of, weights: (day: number) => (day === 0 ? [5000, 5000] : null), traffic })
    .map(({ epochs }) => epochs.flat().reduce((sum, { assigned }) => sum + assigned, 0))
  expect(came).toEqual([1400, 2800, 4200, 5600, 7000, 7000, 7000])
  // Whose test runs from Monday to Friday alone is called no later than by days that are alike.
  const calledBy = (weekends?: number) => all(plan([0.1, 0.13], 'none', { days: 7, weekends }), 60).variants[0]?.calledOn ?? []
  expect(calledBy(0).some((day) => day > 5)).toBe(false)
  expect(calledBy().length).toBeGreaterThan(30)
})
