import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import { mixturePower, sampleSize, mixtureFor } from '../stats'
import { chanceToSee, forecast, trafficAmong, type Design, type Traffic } from '.'
import { bestPlan, visitorsToSee } from './waiting'

const arms = (...weights: number[]): Design['arms'] =>
  weights.map((weight, at) => ({ version: at === 0 ? ORIGINAL : (`v-${at}` as VersionId), weight, levels: [] }))
/** Half of all take part: six tenths on the original, three and one on the variants. */
const uneven = { arms: arms(6000, 3000, 1000), share: 5000, smallestEffect: 0.2 }
const even = { arms: arms(5000, 5000), share: 10_000, smallestEffect: 0.2 }
const busy: Traffic = { visitorsPerDay: 6000, recent: [], baseRate: 0.1 }
/** What the uneven one is compared by: its original and its smallest variant, which has half of the chance to be wrong. */
const comparison = { baseRate: 0.1, effect: 0.2, alpha: 0.025, ratio: 1000 / 6000 }

describe('a plan', () => {
  test('is made for the original and the smallest variant, by their own shares', () => {
    const { perDay, plannedTotal, daysForOneLook, waiting } = forecast(uneven, busy)
    expect(perDay).toBe(3000)
    expect(plannedTotal).toBe(Math.ceil(bestPlan(comparison)))
    const { nBaselineExact } = sampleSize({ baselineRate: 0.1, alpha: 0.05, power: 0.8, variants: 3 }, 0.2, 1 / 6)
    // Seven of ten who take part are of the two.
    expect(daysForOneLook).toBe(Math.ceil((nBaselineExact * (7 / 6)) / 2100))
    expect(waiting).toEqual({ kind: 'days', days: Math.ceil(visitorsToSee(comparison, plannedTotal) / 2100) })
  })

  test('is no larger than what comes in eight weeks, and never under a thousand', () => {
    expect(forecast({ ...uneven, smallestEffect: 0.03 }, { ...busy, visitorsPerDay: 1000 }).plannedTotal).toBe(500 * 0.7 * 56)
    expect(forecast({ ...uneven, smallestEffect: 0.03 }, { ...busy, visitorsPerDay: 1 }).plannedTotal).toBe(1000)
  })

  test('goes by the last days where they are known, of whom as many take part', () => {
    const recent = Array.from({ length: 14 }, () => 3000)
    const { perDay, waiting, plannedTotal } = forecast(uneven, { ...busy, recent })
    expect(perDay).toBe(3000)
    expect(waiting).toEqual({ kind: 'days', days: Math.ceil(visitorsToSee(comparison, plannedTotal) / 1050) })
  })

  test.each([
    ['none is known', null],
    ['nobody does it', 0],
    ['everybody does', 1],
  ])('assumes a rate of one in twenty where %s', (_, baseRate) => {
    const found = forecast(even, { ...busy, baseRate })
    expect(found).toMatchObject({ baseRate: 0.05, measured: false })
    expect(found).toEqual({ ...forecast(even, { ...busy, baseRate: 0.05 }), measured: false })
  })

  test('is not upset by a version that nobody is given, nor by an original alone', () => {
    const off = forecast({ ...even, arms: arms(5000, 0, 5000) }, busy)
    const three = forecast({ ...even, arms: arms(5000, 5000, 5000) }, busy)
    expect([off.plannedTotal, off.waiting, off.seen]).toEqual([three.plannedTotal, three.waiting, three.seen])
    expect(forecast({ ...even, arms: arms(5000) }, busy).seen).toEqual(forecast(even, busy).seen)
    // Half of all are the original’s where it has no weight of its own.
    expect(forecast({ ...even, arms: arms(0, 5000) }, busy).seen).toEqual(forecast(even, busy).seen)
  })

  test('of a week without anybody sees nothing, and needs no days for one look', () => {
    const nobody = forecast(even, { ...busy, visitorsPerDay: 0 })
    expect(nobody).toMatchObject({ daysForOneLook: null, helps: [] })
    expect(nobody.seen).toEqual([1, 2, 4, 8].map((weeks) => ({ weeks, gain: null })))
  })
})

/** The chance with which a gain is seen within so many weeks, by the mixture’s own formula. */
function chanceOf(gain: number, weeks: number): number {
  const [baseline, rate] = [3000 * 0.6 * 7 * weeks, 0.1 * (1 + gain)]
  const variant = baseline / 6
  const error = Math.sqrt((0.1 * 0.9) / baseline + (rate * (1 - rate)) / variant)
  const mixture = mixtureFor(forecast(uneven, busy).plannedTotal, 0.025)
  return mixturePower((rate - 0.1) / error, baseline + variant, 7 * weeks, mixture)
}

test('the gain that is said of each week is seen by then four times of five', () => {
  const { seen } = forecast(uneven, busy)
  expect(seen.map(({ weeks }) => weeks)).toEqual([1, 2, 4, 8])
  for (const { weeks, gain } of seen) expect(chanceOf(gain ?? NaN, weeks)).toBeCloseTo(0.8, 3)
  // Twice as much at the most.
  const few = forecast(uneven, { ...busy, visitorsPerDay: 150 })
  expect(few.seen.map(({ gain }) => gain === null)).toEqual([true, true, true, false])
})

describe('by what past tests say', () => {
  const prior = (gain: number) => ({ mean: Math.log(1 + gain), deviation: 0 })

  test('the chance to see a gain that is certain is the one that the gain has', () => {
    for (const weeks of [1, 4]) expect(chanceToSee(uneven, busy, prior(0.25), weeks)).toBeCloseTo(chanceOf(0.25, weeks), 9)
  })

  test('a loss is never seen to be better, half of what may be true counts by half, and a rate stays a rate', () => {
    expect(chanceToSee(uneven, busy, prior(-0.2), 4)).toBe(0)
    expect(chanceToSee(uneven, busy, prior(0), 4)).toBe(0)
    const wide = chanceToSee(uneven, busy, { mean: 0, deviation: 1 }, 4) ?? NaN
    expect(wide).toBeGreaterThan(0.4)
    expect(wide).toBeLessThan(0.5)
    expect(chanceToSee(uneven, busy, prior(50), 4)).toBeCloseTo(1, 6)
  })

  test('nothing is said where nobody comes', () => {
    expect(chanceToSee(uneven, { ...busy, visitorsPerDay: 0 }, prior(0.2), 4)).toBeNull()
    // One of the original in a week is somebody.
    expect(chanceToSee(even, { ...busy, visitorsPerDay: 2 / 7 }, prior(0.2), 1)).not.toBeNull()
  })
})

describe('what would help where too few come', () => {
  const small: Traffic = { visitorsPerDay: 400, recent: [], baseRate: 0.05 }
  const three = { arms: arms(4000, 3000, 3000), share: 10_000, smallestEffect: 0.1 }
  const daysOf = (design: typeof three, traffic: Traffic) => {
    const { waiting } = forecast(design, traffic)
    return waiting.kind === 'days' ? waiting.days : Infinity
  }

  test('each is the least that is enough within eight weeks, with the days that it takes', () => {
    const { helps } = forecast(three, small)
    const help = (kind: string) => helps.find((one) => one.kind === kind)
    expect(daysOf(three, small)).toBe(Infinity)
    const larger = help('largerDifference')
    expect(larger?.days).toBe(daysOf({ ...three, smallestEffect: larger?.value ?? 0 }, small))
    expect(larger?.days).toBeLessThanOrEqual(56)
    const steps = [0.1, 0.2, 0.3, 0.5, 0.75, 1]
    const before = steps[steps.indexOf(larger?.value ?? 0) - 1] ?? NaN
    expect(daysOf({ ...three, smallestEffect: before }, small)).toBeGreaterThan(56)

    const nearer = help('nearerGoal')
    expect(nearer?.days).toBe(daysOf(three, { ...small, baseRate: nearer?.value ?? 0 }))
    const more = help('moreVisitors')
    expect(more?.days).toBe(daysOf(three, { ...small, visitorsPerDay: more?.value ?? 0 }))
    expect((more?.value ?? 0) / 400).toBeGreaterThan(1)
  })

  test('fewer versions help as far as two of them do, which share all visitors evenly', () => {
    const wide = { ...three, smallestEffect: 0.2 }
    const found = forecast(wide, { ...small, visitorsPerDay: 300 }).helps.find(({ kind }) => kind === 'fewerVariants')
    expect(found).toEqual({
      ...{ kind: 'fewerVariants', value: 2 },
      days: daysOf({ ...wide, arms: arms(5000, 5000) }, { ...small, visitorsPerDay: 300 }),
    })
    expect(
      forecast({ ...wide, arms: arms(5000, 5000) }, { ...small, visitorsPerDay: 100 }).helps.map(({ kind }) => kind),
    ).not.toContain('fewerVariants')
  })

  test('nothing that would take longer than anybody waits, no difference that is no larger, no goal that is hardly nearer', () => {
    const hopeless = forecast({ ...three, smallestEffect: 1 }, { visitorsPerDay: 0.05, recent: [], baseRate: 0.06 }).helps
    expect(hopeless).toEqual([])
    const kinds = forecast({ ...three, smallestEffect: 1 }, { visitorsPerDay: 3, recent: [], baseRate: 0.06 }).helps
    expect(kinds.map(({ kind }) => kind)).not.toContain('largerDifference')
    for (const { days } of kinds) expect(days).toBeLessThanOrEqual(180)
    const near = forecast(three, { ...small, visitorsPerDay: 40, baseRate: 0.3 }).helps.find(({ kind }) => kind === 'nearerGoal')
    expect(near?.value ?? 0.5).toBe(0.5)
  })

  test('nothing helps, and nothing has to, where there are enough', () => {
    expect(forecast(even, busy).helps).toEqual([])
  })
})

test('of a share of all as many come on each day, and as many of them reach the goal', () => {
  expect(trafficAmong({ visitorsPerDay: 400, recent: [100, 200], baseRate: 0.3 }, 0.25)).toEqual({
    ...{ visitorsPerDay: 100, recent: [25, 50], baseRate: 0.3 },
  })
})

describe('the visitors that it takes to see a difference', () => {
  test.each([
    [0.05, 0.05, 0.05, 1, 467_677],
    [0.1, 0.3, 0.01, 0.2, 5000],
    [0.02, -0.99, 0.05, 1, 100],
    [0.9, 0.1, 0.025, 3, 1e6],
    [0.0001, 0.01, 0.05, 1, 1e4],
  ])('of %p and %p more, with alpha %p and a ratio of %p, planned for %p: so many, and no fewer', (...of) => {
    const [baseRate, effect, alpha, ratio, plannedTotal] = of
    const found = visitorsToSee({ baseRate, effect, alpha, ratio }, plannedTotal)
    const [p1, p2] = [baseRate, baseRate * (1 + effect)]
    const perVisitor = (p2 - p1) ** 2 / ((p1 * (1 - p1) + (p2 * (1 - p2)) / ratio) * (1 + ratio))
    const chance = (total: number) => mixturePower(Math.sqrt(perVisitor * total), total, 28, mixtureFor(plannedTotal, alpha))
    expect(chance(found * (1 + 1e-6))).toBeGreaterThan(0.8 - 1e-6)
    expect(chance((found - 1) * (1 - 1e-6))).toBeLessThan(0.8)
  })

  test('are a number all the same where nobody ever sees it', () => {
    const found = visitorsToSee({ baseRate: 0.5, effect: 1e-7, alpha: 0.05, ratio: 1 }, 1e5)
    expect(found).toBe(1e13)
  })
})
