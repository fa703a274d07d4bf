import { lotsOf } from '../simulate'
import {
  betaLogPdf,
  chiSquareSurvival,
  compareMeans,
  credibleLift,
  criticalValue,
  detectableAt,
  errorsForPower,
  interaction,
  mainEffects,
  mixtureFor,
  mixturePower,
  mixturePValue,
  mixtureReach,
  normalQuantile,
  partEffects,
  rate,
  sampleSize,
  splitCheck,
  splitEvidence,
  standardise,
  standardiseMeasures,
  studentTCdf,
  studentTQuantile,
  tuning,
} from '.'
import type { Measured } from './epochs'

const plan = { baselineRate: 0.5, alpha: 0.05, power: 0.8, variants: 2 }

test.each<[string, () => unknown, RegExp]>([
  ['a quantile of 0', () => normalQuantile(0), /strictly between 0 and 1, got 0/],
  ['a quantile of 1', () => normalQuantile(1), /strictly between 0 and 1, got 1/],
  ['a quantile of nothing', () => normalQuantile(NaN), /got NaN/],
  ['confidence in percent', () => criticalValue(95), /Write 95 % as 0\.95/],
  ['no confidence', () => criticalValue(0), /criticalValue/],
  ['all confidence', () => criticalValue(1), /criticalValue/],
  ['a quantile of Student’s t at 0', () => studentTQuantile(0, 5), /studentTQuantile.*got 0/],
  ['a quantile of Student’s t at 1', () => studentTQuantile(1, 5), /studentTQuantile.*got 1/],
  ['a plan for nobody', () => tuning(0, 0.05), /plannedTotal must be above 0, got 0/],
  ['a plan for fewer', () => tuning(-1, 0.05), /plannedTotal/],
  ['certainty', () => tuning(100, 0), /alpha must lie strictly between 0 and 1, got 0/],
  ['no certainty at all', () => tuning(100, 1), /alpha must lie strictly between 0 and 1, got 1/],
  ['fewer counts than weights', () => splitCheck([1], [1, 1]), /1 counts and 2 weights/],
  ['a split of one', () => splitCheck([1], [1]), /two or more/],
  ['a split with a weight of 0', () => splitCheck([1, 1], [1, 0]), /every weight must be above 0, got 1, 0/],
  ['evidence of fewer counts than weights', () => splitEvidence([1], [1, 1]), /1 counts and 2 weights/],
  ['evidence with a weight of 0', () => splitEvidence([1, 1], [1, 0]), /every weight must be above 0/],
  ['a plan for no effect', () => sampleSize(plan, 0, 1), /an effect of 0 on a rate of 0\.5 cannot be planned for/],
  ['a plan for more than everybody', () => sampleSize(plan, 1.01, 1), /cannot be planned for/],
  ['a plan for fewer than nobody', () => sampleSize(plan, -1.01, 1), /cannot be planned for/],
  ['a comparison of one version', () => sampleSize({ ...plan, variants: 1 }, 0.1, 1), /needs 2 versions or more, got 1/],
])('%s is refused, with what it was', (_, ask, words) => {
  expect(ask).toThrow(RangeError)
  expect(ask).toThrow(words)
})

test.each([
  [0, 0],
  [-1, 0],
  [10, -1],
  [10, 11],
  [10.5, 1],
  [10, 1.5],
  [NaN, 0],
  [10, NaN],
  [Infinity, 1],
])('of %d exposed %d converted: that is no count', (n, conversions) => {
  expect(() => rate({ n, conversions })).toThrow(new RangeError(`rate: ${conversions} converted of ${n} exposed are no counts`))
})

test('a part of which all cells show the same, or that nobody saw, has no effect of its own', () => {
  const cell = (levels: readonly number[], n: number, conversions: number) => ({ levels, n, conversions, stratum: 0 })
  expect(partEffects([2, 2], [])).toMatchObject({ effects: [], pairs: [] })
  // The second part was only ever shown with the first: which of them it is cannot be told.
  const tied = [cell([0, 0], 100, 10), cell([1, 1], 100, 20)]
  expect(partEffects([2, 2], tied)).toMatchObject({ effects: [], pairs: [], total: 200 })
  const whole = [cell([0, 0], 100, 10), cell([0, 1], 100, 20), cell([1, 0], 100, 30), cell([1, 1], 100, 40)]
  const found = partEffects([2, 2], whole)
  expect(found.effects.map(({ part, level, difference }) => [part, level, Number(difference.toFixed(9))])).toEqual([
    [0, 1, 0.2],
    [1, 1, 0.1],
  ])
  expect(found.pairs.map(({ parts, levels }) => [parts, levels])).toEqual([
    [
      [0, 1],
      [1, 1],
    ],
  ])
  // A level that nobody saw changes nothing of the others.
  expect(partEffects([3, 2], [...whole, cell([2, 0], 0, 0)]).effects).toEqual(found.effects)
})

test('what stands at the very edge is taken', () => {
  expect(sampleSize(plan, 1, 1).nBaselineExact).toBeGreaterThan(0)
  expect(sampleSize(plan, -1, 1).nBaselineExact).toBeGreaterThan(0)
  expect(splitCheck([0, 0], [1, 2])).toEqual({ chiSquare: 0, df: 1, pValue: 1 })
  expect([chiSquareSurvival(0, 3), chiSquareSurvival(-1, 3)]).toEqual([1, 1])
  expect([studentTQuantile(0.5, 7), studentTCdf(0, 7)]).toEqual([0, 0.5])
  expect([rate({ n: 1, conversions: 0 }), rate({ n: 1, conversions: 1 })]).toEqual([0, 1])
  expect(detectableAt(30, 0.5, 10, 10).relativeIncrease).toBeNull()
})

test('Student’s quantile is where its distribution says, in both tails and with any degrees of freedom', () => {
  for (const df of [1, 2, 5, 30, 1000])
    for (const p of [1e-12, 1e-4, 0.2, 0.45, 0.499, 0.501, 0.7, 0.999])
      expect(studentTCdf(studentTQuantile(p, df), df) / p).toBeCloseTo(1, 9)
})

test('where a density is highest it is as the binomial says', () => {
  // Beta(k + 1, n − k + 1) at k/n is (n + 1) times the chance of k in n.
  const choose = (n: number, k: number): number => (k === 0 ? 1 : (choose(n - 1, k - 1) * n) / k)
  for (const [n, k] of [
    [1, 0],
    [4, 2],
    [30, 11],
    [60, 59],
  ] as const) {
    const p = (k + 0.5) / (n + 1)
    expect(Math.exp(betaLogPdf(p, k + 1, n - k + 1))).toBeCloseTo((n + 1) * choose(n, k) * p ** k * (1 - p) ** (n - k), 9)
  }
})

describe('what cannot be compared says nothing', () => {
  const known = { n: 10, mean: 2, variance: 1 }
  test.each([
    [{ n: 1, mean: 2, variance: 1 }, known],
    [known, { n: 1, mean: 2, variance: 1 }],
    [{ n: 10, mean: 2, variance: null }, known],
    [known, { n: 10, mean: 2, variance: null }],
  ])('means of %j and %j', (one, other) => {
    expect(compareMeans(one, other, 0.95)).toMatchObject({
      difference: 0,
      lift: 0,
      standardError: null,
      pValue: null,
      interval: null,
    })
  })

  test('an epoch in which one of the two was not drawn, or seen by nobody', () => {
    const epoch: Measured = { shares: [1, 1], n: [10, 10], values: [0.2, 0.3], variances: [0.01, 0.02] }
    const alone = standardiseMeasures([epoch])
    expect(alone).toEqual({ total: 20, values: [0.2, 0.3], variances: [0.01, 0.02] })
    for (const more of [{ shares: [0, 1] }, { shares: [1, 0] }, { n: [0, 10] }, { n: [10, 0] }] as const) {
      expect(standardiseMeasures([{ ...epoch, ...more, values: [9, 9] }])).toBeNull()
      expect(standardiseMeasures([epoch, { ...epoch, ...more, values: [9, 9] }])).toEqual(alone)
    }
    expect(standardiseMeasures([])).toBeNull()
  })

  test('a lift over nobody, and the spread of a logarithm of nothing', () => {
    const of = (baseline: number, variant: number) =>
      standardise([
        {
          shares: [1, 1],
          outcomes: [
            { n: 10, conversions: baseline },
            { n: 10, conversions: variant },
          ],
        },
      ])
    expect(of(0, 5)).toMatchObject({ lift: null, logError: null, difference: 0.5 })
    expect(of(5, 0)).toMatchObject({ lift: -1, logError: null, difference: -0.5 })
    // Where all converted it is not certain that all would: half a conversion is put to the other side.
    expect(of(5, 10)?.differenceError).toBeCloseTo(Math.sqrt(0.025 + ((10.5 / 11) * (0.5 / 11)) / 10), 12)
  })

  test('a level that nobody saw, or a first one that nobody did', () => {
    const cell = (level: number, n: number) => ({ levels: [level], n, conversions: n / 2 })
    const seen = mainEffects([3], [cell(0, 10), cell(1, 0), cell(2, 20)])[0]?.levels
    expect(seen?.map(({ rate, difference }) => [rate, difference])).toEqual([
      [0.5, null],
      [null, null],
      [0.5, 0],
    ])
    const unseen = mainEffects([2], [cell(0, 0), cell(1, 10)])[0]?.levels
    expect(unseen?.map(({ rate, difference }) => [rate, difference])).toEqual([
      [null, null],
      [0.5, null],
    ])
  })

  test('an interaction that is nothing but rounding', () => {
    const of = (n: number, conversions: number) => ({ n, conversions })
    const found = interaction({ a0b0: of(10, 1), a0b1: of(10, 3), a1b0: of(10, 2), a1b1: of(10, 4) }, 0.95)
    expect([found.interaction, found.z, found.pValue]).toEqual([0, 0, 1])
  })
})

describe('the chance that the mixture has seen a difference', () => {
  const mixture = mixtureFor(20_000, 0.05)
  const [total, looks] = [12_000, 28]

  /** Of walks with so much drift, looked at so often, the share that was ever beyond the boundary. */
  function walked(errors: number, walks: number): number {
    const lots = lotsOf(3)
    const bounds = Array.from({ length: looks }, (_, at) => mixtureReach((total * (at + 1)) / looks, mixture))
    let seen = 0
    for (let walk = 0; walk < walks; walk++) {
      let sum = 0
      seen += bounds.some((bound, at) => {
        sum += normalQuantile(Math.max(1e-9, lots())) / Math.sqrt(looks) + errors / looks
        // In standard errors of what was known by then.
        return sum / Math.sqrt((at + 1) / looks) >= bound
      })
        ? 1
        : 0
    }
    return seen / walks
  }

  test.each([2, 3, 4])('is what so many walks with a drift of %d standard errors do', (errors) => {
    expect(mixturePower(errors, total, looks, mixture)).toBeCloseTo(walked(errors, 4000), 1)
  })

  test('grows with the difference, and with how often is looked, up to certainty', () => {
    const power = (errors: number, often = looks) => mixturePower(errors, total, often, mixture)
    expect([power(1) < power(2), power(2) < power(4), power(4) < power(6)]).toEqual([true, true, true])
    expect(power(3, 7)).toBeLessThan(power(3, 56))
    expect([power(50), power(1e6)]).toEqual([1, 1])
    expect(power(3, 1)).toBeGreaterThan(0.1)
  })

  test.each([0.1, 0.5, 0.8, 0.95])('of %d is reached with just as many errors as are said', (power) => {
    const needed = errorsForPower(power, total, looks, mixture)
    expect(mixturePower(needed, total, looks, mixture)).toBeCloseTo(power, 6)
  })

  test('what it has not seen has a p value, and what has no spread none', () => {
    const at = mixtureReach(total, mixture)
    // On the boundary it is the chance of being wrong, and beyond it less.
    expect(mixturePValue({ estimate: at, standardError: 1, total }, mixture)).toBeCloseTo(0.05, 10)
    expect(mixturePValue({ estimate: -at - 1, standardError: 1, total }, mixture)).toBeLessThan(0.01)
    expect(mixturePValue({ estimate: 0, standardError: 1, total }, mixture)).toBe(1)
    expect([0, 1].map((estimate) => mixturePValue({ estimate, standardError: 0, total }, mixture))).toEqual([1, null])
    expect(mixtureReach(total, mixture)).toBe(mixtureReach(total, mixtureFor(20_000, 0.05)))
  })
})

test.each([
  [
    { n: 3, conversions: 0 },
    { n: 4, conversions: 1 },
  ],
  [
    { n: 50, conversions: 20 },
    { n: 500, conversions: 300 },
  ],
  [
    { n: 2000, conversions: 9 },
    { n: 30, conversions: 1 },
  ],
])('a lift of %j over the other is its opposite the other way about, however sure it has to be', (one, other) => {
  for (const credibility of [0.5, 0.999_99]) {
    const [there, back] = [credibleLift(one, other, credibility), credibleLift(other, one, credibility)]
    const turned = ([lower, upper]: readonly [number, number]) => [1 / (1 + upper), 1 / (1 + lower)]
    turned(back.interval).forEach((ratio, at) => expect((1 + (there.interval[at] ?? 0)) / ratio).toBeCloseTo(1, 6))
    expect((1 + there.median) * (1 + back.median)).toBeCloseTo(1, 6)
    expect(there.interval[0]).toBeLessThan(there.interval[1])
  }
})
