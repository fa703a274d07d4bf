import fc from 'fast-check'
import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import { lotsOf } from '../simulate'
import { randomNormal } from 'd3'
import { averageOver, chanceOfGain, kindsOf, likelyGain, type PastTest } from './base-rates'
import { chanceToSee } from './forecast'

const past = (kind: string, original: number, variant: number, more: Partial<PastTest> = {}): PastTest => ({
  ...{ kind, paid: variant > original, arms: [original, variant].map((converters) => ({ exposed: 10_000, converters })) },
  ...more,
})

test('tests of a kind stand beside each other with how often they paid, the kind with most of them first', () => {
  const found = kindsOf([past('menu', 500, 480), past('heading', 500, 560), past('heading', 500, 490), past('constructor', 5, 5)])
  expect(found.map(({ kind, tests, paid }) => [kind, tests, paid])).toEqual([
    ['heading', 2, 1],
    ['constructor', 1, 0],
    ['menu', 1, 0],
  ])
  // Of two nothing is made, and of five converters nothing is said.
  expect(found.map(({ average, prior, each }) => [average, prior, each.length])).toEqual([
    [null, null, 2],
    [null, null, 0],
    [null, null, 1],
  ])
})

test('where all gained about the same, each is taken for that; where they lie apart, each for what it had', () => {
  const [alike] = kindsOf([past('heading', 500, 540), past('heading', 500, 552), past('heading', 500, 562)])
  for (const { shrunk } of alike?.each ?? []) expect(shrunk).toBeCloseTo(alike?.average?.lift ?? NaN, 6)
  const many = (variant: number) =>
    past('heading', 5000, variant, { arms: [5000, variant].map((converters) => ({ exposed: 100_000, converters })) })
  const [apart] = kindsOf([many(4000), many(5000), many(6500)])
  for (const { lift, shrunk } of apart?.each ?? []) expect(Math.abs(shrunk - lift)).toBeLessThan(0.02)
})

test('what is shrunk lies between what was measured and the mean, and nothing is endless', () => {
  const some = fc.array(
    fc.record({ original: fc.integer({ min: 0, max: 10_000 }), variant: fc.integer({ min: 0, max: 10_000 }) }),
    { minLength: 1, maxLength: 12 },
  )
  fc.assert(
    fc.property(some, (tests) => {
      for (const { average, each, prior } of kindsOf(tests.map(({ original, variant }) => past('x', original, variant)))) {
        for (const { lift, shrunk, interval } of each) {
          const [low, high] = [Math.min(lift, average?.lift ?? lift), Math.max(lift, average?.lift ?? lift)]
          expect(shrunk).toBeGreaterThanOrEqual(low - 1e-9)
          expect(shrunk).toBeLessThanOrEqual(high + 1e-9)
          for (const value of [...interval, ...(average?.interval ?? [])]) expect(Number.isFinite(value)).toBe(true)
        }
        if (prior !== null) expect(chanceOfGain(prior)).toBeGreaterThanOrEqual(0)
      }
    }),
  )
})

test('the true gains of made-up tests are told better shrunk than as they were measured', () => {
  const lots = lotsOf(7)
  const gain = randomNormal.source(lots)(0.01, 0.05)
  const noise = randomNormal.source(lots)(0, 1)
  const made = Array.from({ length: 60 }, () => {
    const log = gain()
    const reached = (rate: number) => Math.round(8000 * rate + noise() * Math.sqrt(8000 * rate * (1 - rate)))
    return {
      log,
      ...past('heading', 0, 0, {
        arms: [0.05, 0.05 * Math.exp(log)].map((rate) => ({ exposed: 8000, converters: reached(rate) })),
      }),
    }
  })
  const [found] = kindsOf(made)
  const off = (of: 'lift' | 'shrunk') =>
    (found?.each ?? []).reduce((sum, one) => sum + (one[of] - Math.expm1(one.of.log)) ** 2, 0)
  expect(off('shrunk')).toBeLessThan(off('lift') / 2)
  const within = (found?.each ?? []).filter(
    ({ interval: [low, high], of }) => low <= Math.expm1(of.log) && Math.expm1(of.log) <= high,
  )
  expect(within.length / 60).toBeGreaterThan(0.88)
})

describe('what past tests say of the next', () => {
  const design = {
    arms: [ORIGINAL, 'bold' as VersionId].map((version) => ({ version, weight: 5000, levels: [] })),
    ...{ share: 10_000, smallestEffect: 0.1 },
  }
  const traffic = (perDay: number) => ({ visitorsPerDay: perDay, recent: [], baseRate: 0.05 })

  test('is the chance to see it, which grows with time, with visitors and with what such changes mostly gain', () => {
    const chance = (perDay: number, mean: number, weeks: number) =>
      chanceToSee(design, traffic(perDay), { mean, deviation: 0.1 }, weeks) ?? NaN
    expect(chance(2000, 0, 2)).toBeLessThan(chance(2000, 0, 8))
    expect(chance(200, 0, 8)).toBeLessThan(chance(2000, 0, 8))
    expect(chance(2000, 0, 8)).toBeLessThan(chance(2000, 0.1, 8))
    // Half of what may be true is no gain.
    expect(chance(1e7, 0, 8)).toBeGreaterThan(0.45)
    expect(chance(1e7, 0, 8)).toBeLessThan(0.5)
    expect(chanceToSee(design, traffic(0), { mean: 0, deviation: 0.1 }, 8)).toBeNull()
  })

  test('without doubt it is the promise itself', () => {
    const sure = { mean: Math.log(1.2), deviation: 0 }
    expect(likelyGain(sure)[0]).toBeCloseTo(0.2, 10)
    expect(averageOver(sure, Math.exp)).toBeCloseTo(1.2, 10)
    expect(chanceOfGain(sure)).toBe(1)
  })
})
