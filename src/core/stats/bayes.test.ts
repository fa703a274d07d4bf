import { allocation, bestOf, credible, credibleLift } from './bayes'

const seen = (n: number, conversions: number) => ({ n, conversions })
const logFactorial = (n: number): number => (n < 2 ? 0 : Math.log(n) + logFactorial(n - 1))
/** ln B(a, b) of whole numbers. */
const logBeta = (a: number, b: number) => logFactorial(a - 1) + logFactorial(b - 1) - logFactorial(a + b - 1)

/** The chance that one Beta is above another of whole parameters, as a finite sum. */
function above([a, b]: readonly [number, number], [c, d]: readonly [number, number]): number {
  let sum = 0
  for (let i = 0; i < c; i++) sum += Math.exp(logBeta(a + i, b + d) - Math.log(d + i) - logBeta(1 + i, d) - logBeta(a, b))
  return sum
}

describe('who is the best', () => {
  test.each([
    [seen(0, 0), seen(0, 0)],
    [seen(12, 3), seen(10, 5)],
    [seen(30, 30), seen(20, 19)],
    [seen(40, 0), seen(5, 1)],
    [seen(200, 20), seen(150, 25)],
  ])('of %j and %j is as the finite sum says, and what is lost goes by the means', (one, other) => {
    const { chances, losses } = bestOf([one, other])
    const parameters = ({ n, conversions }: typeof one) => [1 + conversions, 1 + n - conversions] as const
    const mean = ([alpha, beta]: readonly [number, number]) => alpha / (alpha + beta)
    const [a, b] = [parameters(one), parameters(other)]
    expect(chances[1]).toBeCloseTo(above(a, b), 9)
    expect((chances[0] ?? 0) + (chances[1] ?? 0)).toBeCloseTo(1, 12)
    expect((losses[0] ?? 0) - (losses[1] ?? 0)).toBeCloseTo(mean(b) - mean(a), 9)
    expect(Math.min(...losses)).toBeGreaterThanOrEqual(0)
  })

  test('of two rates of which nothing is known either is as likely, and a sixth is lost by each', () => {
    // The larger of two uniform rates is 2/3 in the mean, each of them 1/2.
    const { chances, losses } = bestOf([seen(0, 0), seen(0, 0)])
    chances.forEach((chance) => expect(chance).toBeCloseTo(0.5, 10))
    losses.forEach((loss) => expect(loss).toBeCloseTo(2 / 3 - 1 / 2, 10))
    expect(bestOf([seen(0, 0), seen(0, 0), seen(0, 0)]).losses[0]).toBeCloseTo(3 / 4 - 1 / 2, 9)
  })

  test('of one alone is that one, and nothing is lost by it; of many alike each is as likely', () => {
    const alone = bestOf([seen(50, 7)])
    expect(alone.chances).toEqual([1])
    expect(alone.losses[0]).toBeCloseTo(0, 10)
    for (const chance of bestOf(Array.from({ length: 4 }, () => seen(20, 4))).chances) expect(chance).toBeCloseTo(0.25, 9)
  })

  test('goes by what was thought before', () => {
    const [, chance] = bestOf([seen(10, 2), seen(10, 4)], { alpha: 3, beta: 5 }).chances
    expect(chance).toBeCloseTo(above([5, 13], [7, 11]), 9)
  })
})

describe('what a rate can be', () => {
  test('is any, before anything was seen, and goes by the root where one of one converted', () => {
    expect(credible(seen(0, 0), 0.9)).toMatchObject({ alpha: 1, beta: 1 })
    const any = credible(seen(0, 0), 0.9)
    expect([any.lower, any.median, any.upper].map((value) => Number(value.toFixed(9)))).toEqual([0.05, 0.5, 0.95])
    const one = credible(seen(1, 1), 0.5)
    expect([one.lower, one.median, one.upper].map((value, at) => value - Math.sqrt([0.25, 0.5, 0.75][at] ?? 0))).toEqual(
      [0, 0, 0].map(() => expect.closeTo(0, 9) as number),
    )
    expect(credible(seen(8, 2), 0.95, { alpha: 3, beta: 4 })).toMatchObject({ alpha: 5, beta: 10 })
  })

  test('of a lift, is the ratio of two of which nothing is known: from a twentieth to twenty times', () => {
    // The ratio r of two uniform rates is below r with r/2, above 1 with 1/(2r).
    const { median, interval } = credibleLift(seen(0, 0), seen(0, 0), 0.95)
    expect(median).toBeCloseTo(0, 8)
    expect(interval[0]).toBeCloseTo(-0.95, 8)
    expect(interval[1]).toBeCloseTo(19, 5)
  })

  test('of a lift is turned over where the two are, whichever of them is the narrower', () => {
    for (const [few, many] of [
      [seen(20, 4), seen(2000, 300)],
      [seen(2000, 300), seen(20, 4)],
    ] as const) {
      const forth = credibleLift(few, many, 0.9)
      const back = credibleLift(many, few, 0.9)
      expect((1 + forth.median) * (1 + back.median)).toBeCloseTo(1, 6)
      expect((1 + forth.interval[0]) * (1 + back.interval[1])).toBeCloseTo(1, 6)
      expect(forth.interval[0]).toBeLessThan(forth.median)
      expect(forth.median).toBeLessThan(forth.interval[1])
    }
    expect(credibleLift(seen(0, 0), seen(0, 0), 0.5, { alpha: 40, beta: 60 }).median).toBeCloseTo(0, 8)
  })

  test('of many is as the normal curve on the logarithm says', () => {
    const { median, interval } = credibleLift(seen(100_000, 10_000), seen(100_000, 11_000), 0.95)
    const width = 1.959964 * Math.sqrt(1 / 10_000 - 1 / 100_000 + 1 / 11_000 - 1 / 100_000)
    expect(Math.log1p(median)).toBeCloseTo(Math.log(1.1), 3)
    expect(Math.log1p(interval[1]) - Math.log1p(median)).toBeCloseTo(width, 3)
    expect(Math.log1p(median) - Math.log1p(interval[0])).toBeCloseTo(width, 3)
  })
})

test('a version is shown as often as it is likely the best, and never less often than the floor', () => {
  expect(allocation([0.9, 0.1, 0], 0.1).map((share) => Number(share.toFixed(12)))).toEqual([0.73, 0.17, 0.1])
  expect(allocation([0.5, 0.5], 0)).toEqual([0.5, 0.5])
  // A floor that there is no room for is an even split.
  for (const share of allocation([1, 0, 0], 0.6)) expect(share).toBeCloseTo(1 / 3, 12)
  expect(allocation([0.2, 0.2], 0).reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 12)
})
