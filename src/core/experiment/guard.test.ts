import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import type { Interval } from '../stats'
import { readGuard, type GuardReading } from './guard'
import { read, type Result } from './reading'

const bold = 'bold' as VersionId
const arm = (version: VersionId, exposed: number, converters: number, weight = 5000) => ({
  ...{ version, weight, assigned: exposed, exposed, converters },
})
const counted = (original: number, variant: number, n = 10_000, days = 14): Result =>
  read({ epochs: [[arm(ORIGINAL, n, original), arm(bold, n, variant)]], days, smallestEffect: 0.05, plannedTotal: 20_000 })
const reading = (result: Result, margin = 0.05) => readGuard(result, margin)[0]?.reading

/** A result whose variant has these limits of its lift. */
function limited(lift: Interval | null, difference: Interval | null = null, rate: number | null = 0.1): Result {
  const result = counted(1000, 1000)
  const [original, ...rates] = result.rates
  return {
    ...result,
    rates: original === undefined ? [] : [{ ...original, rate }, ...rates],
    variants: result.variants.map((one) => ({ ...one, liftInterval: lift, differenceInterval: difference })),
  }
}

test.each<[string, GuardReading, Result]>([
  ['worse by more than the margin is broken', 'broken', counted(1000, 700)],
  ['not worse by as much holds', 'holds', counted(1000, 1100)],
  ['which of the two is not known', 'open', counted(1000, 960)],
  ['nobody of the variant reached it, of many of the original', 'broken', counted(500, 0)],
  ['nobody of the original reached it', 'open', counted(0, 500)],
  ['too few saw it', 'open', counted(40, 0, 90)],
  ['too few reached it', 'open', counted(9, 0)],
  ['less than a day', 'open', counted(1000, 700, 10_000, 0.5)],
])('%s: %s', (_, expected, result) => expect(reading(result)).toBe(expected))

test('at the margin itself nothing is broken, and nothing holds', () => {
  expect(reading(limited([-0.3, -0.05]))).toBe('open')
  expect(reading(limited([-0.3, -0.0501]))).toBe('broken')
  expect(reading(limited([-0.05, 0.2]))).toBe('open')
  expect(reading(limited([-0.0499, 0.2]))).toBe('holds')
  expect(reading(limited([-0.05, 0.2]), 0.1)).toBe('holds')
})

test('without a lift the difference is held against what the original has; without either nothing is said', () => {
  expect(reading(limited(null, [-0.02, -0.006]))).toBe('broken')
  expect(reading(limited(null, [-0.02, -0.005]))).toBe('open')
  expect(reading(limited(null, [-0.004, 0.01]))).toBe('holds')
  expect(reading(limited(null, [-0.02, -0.006], 0))).toBe('open')
  expect(reading(limited(null, [-0.02, -0.006], null))).toBe('open')
  expect(reading(limited(null))).toBe('open')
})

test('counts that are not to be trusted break no guard and keep none', () => {
  const uneven = read({
    epochs: [[arm(ORIGINAL, 10_000, 1000), arm(bold, 12_000, 500)]],
    ...{ days: 14, smallestEffect: 0.05, plannedTotal: 20_000 },
  })
  expect(uneven.split.trusted).toBe(false)
  expect(reading(uneven)).toBe('open')
})
