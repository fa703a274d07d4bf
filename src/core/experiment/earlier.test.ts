import fc from 'fast-check'
import { ORIGINAL, WHOLE } from '../decide'
import type { VersionId } from '../ids'
import { cuped, mixtureInterval, mixtureFor, type Unit } from '../stats'
import { steadied, type EarlierCounts } from './earlier'
import { read, type Evidence } from './reading'

const bold = 'bold' as VersionId
const arm = (version: VersionId, weight: number, exposed: number, converters: number) => ({
  ...{ version, weight, assigned: exposed, exposed, converters },
})
const evidence = (...epochs: Evidence['epochs'][number][]): Evidence => ({
  ...{ epochs, days: 20, smallestEffect: 0.05, plannedTotal: 40_000 },
})
const past = (version: VersionId, of: EarlierCounts['past'], exposed: number, converters: number, epoch = 1): EarlierCounts => ({
  ...{ epoch, version, past: of, exposed, converters },
})
/** The variant was given more of those who come back, and they reach the goal far more often. */
const uneven = [
  past(ORIGINAL, 'new', 8000, 400),
  past(ORIGINAL, 'reached', 2000, 1000),
  past(bold, 'new', 7800, 390),
  past(bold, 'reached', 2200, 1100),
]

test('what chance gave one version more of is taken out, as by CUPED with the rate of those who had done as much', () => {
  const of = evidence([arm(ORIGINAL, WHOLE / 2, 10_000, 1400), arm(bold, WHOLE / 2, 10_000, 1490)])
  const [found] = steadied(of, uneven) ?? []
  const expected = { new: 790 / 15_800, looked: 0, reached: 2100 / 4200 }
  const units = uneven.flatMap(({ version, past: had, exposed, converters }) =>
    Array.from({ length: exposed }, (_, at): Unit => ({
      x: expected[had],
      y: at < converters ? 1 : 0,
      group: version === ORIGINAL ? 0 : 1,
    })),
  )
  const { comparisons, groups, theta } = cuped(units, 0.95)
  expect(theta).toBeCloseTo(1, 6)
  const [base, rate] = groups.map(({ adjustedMean }) => adjustedMean)
  expect(found?.lift).toBeCloseTo((rate ?? 0) / (base ?? 1) - 1, 8)
  expect(found?.lift).toBeCloseTo(0, 8)
  expect(found?.varianceReduction).toBeCloseTo(comparisons[0]?.varianceReduction ?? NaN, 3)
  expect(read(of).variants[0]?.lift).toBeCloseTo(0.064, 3)
  const [v0 = 0, v1 = 0] = groups.map(({ adjustedVariance, n }) => (adjustedVariance ?? 0) / n)
  const standardError = Math.sqrt(v0 / (base ?? 1) ** 2 + v1 / (rate ?? 1) ** 2)
  const interval = mixtureInterval(
    { estimate: Math.log((rate ?? 0) / (base ?? 1)), standardError, total: 20_000 },
    mixtureFor(40_000, 0.05),
  )
  expect(found?.liftInterval?.[1]).toBeCloseTo(Math.expm1(interval?.[1] ?? NaN), 4)
})

test('nothing is taken out where nobody is known to have been here, and little where it says little', () => {
  const of = evidence([arm(ORIGINAL, WHOLE / 2, 10_000, 1400), arm(bold, WHOLE / 2, 10_000, 1490)])
  expect(steadied(of, [])).toBeNull()
  expect(steadied(of, [past(bold, 'new', 10_000, 1490)])).toBeNull()
  const [found] = steadied(of, [past(ORIGINAL, 'looked', 1000, 140), past(bold, 'looked', 1000, 149)]) ?? []
  expect(found?.varianceReduction).toBeCloseTo(0, 6)
  expect(found?.lift).toBeCloseTo(read(of).variants[0]?.lift ?? NaN, 6)
})

test('each epoch is made steadier by itself: a split that followed a rising rate makes no gain', () => {
  const of = evidence(
    [arm(ORIGINAL, 5000, 5000, 500), arm(bold, 5000, 5000, 500)],
    [arm(ORIGINAL, 2000, 2000, 400), arm(bold, 8000, 8000, 1600)],
  )
  const counts = [1, 2].flatMap((epoch) => [
    past(ORIGINAL, 'looked', 500, 50 * epoch, epoch),
    past(bold, 'looked', epoch === 1 ? 500 : 2000, epoch === 1 ? 50 : 400, epoch),
  ])
  expect(steadied(of, counts)?.[0]?.lift).toBeCloseTo(0, 8)
})

test('whatever was counted, and in whatever state it was left, nothing is endless and nothing is wider for it by much', () => {
  const many = fc.integer({ min: 0, max: 3000 })
  const groups = fc.array(fc.record({ exposed: many, share: fc.double({ min: 0, max: 1, noNaN: true }) }), {
    minLength: 6,
    maxLength: 6,
  })
  fc.assert(
    fc.property(groups, many, (six, unknown) => {
      const counts = six.map(({ exposed, share }, at) =>
        past(
          at < 3 ? ORIGINAL : bold,
          (['new', 'looked', 'reached'] as const)[at % 3] ?? 'new',
          exposed,
          Math.floor(exposed * share),
        ),
      )
      const sum = (version: VersionId, key: 'exposed' | 'converters') =>
        counts.filter((one) => one.version === version).reduce((all, one) => all + one[key], 0)
      const of = evidence([
        arm(ORIGINAL, 5000, sum(ORIGINAL, 'exposed') + unknown, sum(ORIGINAL, 'converters')),
        arm(bold, 5000, sum(bold, 'exposed') + unknown, sum(bold, 'converters')),
      ])
      for (const { lift, liftInterval, varianceReduction } of steadied(of, counts) ?? []) {
        for (const value of [lift ?? 0, ...(liftInterval ?? []), varianceReduction]) expect(Number.isFinite(value)).toBe(true)
        expect(varianceReduction).toBeLessThanOrEqual(1)
      }
    }),
  )
})
