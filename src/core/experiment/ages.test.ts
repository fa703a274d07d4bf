import { ORIGINAL } from '../decide'
import type { DocumentId, GoalId, VersionId } from '../ids'
import { effectsByAge } from './ages'
import type { CountedRow } from './looks'

const bold = 'bold' as VersionId
const goal = 'reserved' as GoalId
const versions = [ORIGINAL, bold]
const came = (version: VersionId, day: string, exposed: number): CountedRow => ({
  ...{ epoch: 1, goal: '', version, day, assigned: exposed, exposed, converters: 0 },
  ...{ worth: 0, worthSquared: 0, visits: 0, visitsSquared: 0, visitsWorth: 0 },
})
const after = (version: VersionId, age: number, visitors: number, of: string = goal) => ({
  ...{ version, document: 'home' as DocumentId, doing: 'after' as const, what: `${of} ${age}`, times: visitors, visitors },
})
const rows = versions.flatMap((version) => [came(version, '2026-03-01', 1000), came(version, '2026-03-09', 1000)])
const ages = (reached: ReturnType<typeof after>[], today = '2026-03-09') => effectsByAge({ reached, rows, versions, today })(goal)

test('an effect that wears off is seen to: more on the first day, and no more after it', () => {
  const found = ages([after(ORIGINAL, 0, 100), after(bold, 0, 160), after(ORIGINAL, 4, 20), after(bold, 6, 20)])
  expect(found.map(({ from, to, lifts }) => [from, to, Math.round((lifts[0]?.lift ?? NaN) * 100)])).toEqual([
    [0, 0, 60],
    [4, 7, 0],
  ])
  expect(found[0]?.lifts[0]?.interval?.[0]).toBeGreaterThan(0)
  expect(found[1]?.lifts[0]?.interval?.[0]).toBeLessThan(0)
})

test('whoever came later counts for the days on which they have been', () => {
  // On the tenth those of the ninth have been there for two days: twice as many days, half the rate, the same lift.
  const reached = [after(ORIGINAL, 1, 50), after(bold, 1, 60)]
  expect(ages(reached, '2026-03-09')[0]?.lifts[0]?.lift).toBeCloseTo(0.2)
  const skewed = effectsByAge({
    ...{ reached, versions, today: '2026-03-09' },
    rows: [...rows, came(bold, '2026-03-09', 5000)],
  })(goal)
  // Those who have come today alone can have nothing on the day after.
  expect(skewed[0]?.lifts[0]?.lift).toBeCloseTo(0.2)
})

test('of few, of another goal, and of nobody nothing is said', () => {
  expect(ages([after(ORIGINAL, 0, 9), after(bold, 0, 90)])).toEqual([])
  expect(ages([after(ORIGINAL, 0, 90, 'other'), after(bold, 0, 90, 'constructor')])).toEqual([])
})
