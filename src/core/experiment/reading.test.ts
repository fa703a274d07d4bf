import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import { lotsOf } from '../simulate'
import { leader, read, readGuard, readThrough, type ArmCounts, type Evidence } from '.'

const bold = 'bold' as VersionId
const arm = (version: VersionId, exposed: number, converters: number, assigned = exposed): ArmCounts => ({
  version,
  weight: 5000,
  assigned,
  exposed,
  converters,
})
const evidence = (original: [number, number], variant: [number, number], change: Partial<Evidence> = {}): Evidence => ({
  epochs: [[arm(ORIGINAL, ...original), arm(bold, ...variant)]],
  days: 14,
  smallestEffect: 0.05,
  plannedTotal: 20_000,
  ...change,
})
const reading = (of: Evidence) => read(of).variants[0]

describe('the reading of a variant', () => {
  test.each<[string, Evidence, string, string | null]>([
    ['few exposed', evidence([90, 20], [95, 40]), 'tooEarly', 'fewExposed'],
    ['few converters in either', evidence([5000, 9], [5000, 8]), 'tooEarly', 'fewConverters'],
    ['a variant that kills its goal', evidence([5000, 500], [5000, 0]), 'worse', null],
    ['an original that nobody could use', evidence([5000, 0], [5000, 500]), 'better', null],
    ['half a day', evidence([10_000, 1000], [10_000, 1400], { days: 0.5 }), 'tooEarly', 'lessThanADay'],
    ['an interval across the line', evidence([1000, 100], [1000, 110]), 'tooEarly', 'unclear'],
    ['a clear gain', evidence([10_000, 1000], [10_000, 1200]), 'better', null],
    ['a clear loss', evidence([10_000, 1200], [10_000, 1000]), 'worse', null],
    ['nothing worth having', evidence([400_000, 80_000], [400_000, 80_100]), 'noDifference', null],
    ['a split that is off', evidence([10_000, 1000], [9_000, 1200]), 'notToBeTrusted', null],
    ['nobody yet', evidence([0, 0], [0, 0]), 'tooEarly', 'fewExposed'],
  ])('%s', (_, of, word, wait) => {
    expect(reading(of)).toMatchObject({ reading: word, wait })
  })

  test('an uneven assignment is seen even where the exposures are even', () => {
    const arms = [arm(ORIGINAL, 5000, 500, 6000), arm(bold, 5000, 700, 5000)]
    expect(reading(evidence([0, 0], [0, 0], { epochs: [arms] }))?.reading).toBe('notToBeTrusted')
  })

  test('exchanging original and variant mirrors the difference, and the better one becomes the worse', () => {
    const forth = reading(evidence([10_000, 1000], [10_000, 1200]))
    const back = reading(evidence([10_000, 1200], [10_000, 1000]))
    expect(back?.differenceInterval?.map((limit) => -limit).reverse()).toEqual(
      forth?.differenceInterval?.map((limit) => expect.closeTo(limit, 12)),
    )
    expect([forth?.reading, back?.reading]).toEqual(['better', 'worse'])
  })

  test('more comparisons widen every interval', () => {
    const two = evidence([5000, 500], [5000, 560])
    const three = { ...two, epochs: two.epochs.map((arms) => [...arms, arm('third' as VersionId, 5000, 500)]) }
    expect(reading(three)?.liftInterval?.[0]).toBeLessThan(reading(two)?.liftInterval?.[0] ?? 0)
  })

  test.each([
    [0, 0],
    [0, 40],
    [1, 1],
    [400, 400],
    [1, 399],
  ])('%d and %d converters of 400 give no number that is not one', (a, b) => {
    for (const value of JSON.stringify(read(evidence([400, a], [400, b]))).matchAll(/-?\d[\d.e+-]*/g))
      expect(Number(value[0])).not.toBeNaN()
    for (const interval of [
      reading(evidence([400, a], [400, b]))?.liftInterval,
      reading(evidence([400, a], [400, b]))?.differenceInterval,
    ]) {
      expect(interval?.every(Number.isFinite) ?? true).toBe(true)
    }
  })
})

describe('a round that is looked at every day', () => {
  /** Counts after each day of some days, with rates that may differ by the day. */
  const days = (seed: number, many: number, perDay: number, rates: (day: number) => readonly [number, number]): Evidence[] => {
    const lots = lotsOf(seed)
    const sums: [number, number][] = [
      [0, 0],
      [0, 0],
    ]
    return Array.from({ length: many }, (_, day) => {
      for (let visitor = 0; visitor < perDay; visitor++) {
        const own = sums[lots() < 0.5 ? 0 : 1] ?? [0, 0]
        own[0]++
        if (lots() < rates(day)[own === sums[0] ? 0 : 1]) own[1]++
      }
      const [original, variant] = sums
      return evidence([...(original ?? [0, 0])], [...(variant ?? [0, 0])], { days: day + 1 })
    })
  }

  test('what is better once is better always, and its interval only narrows', () => {
    for (const seed of [1, 2, 3, 4, 5]) {
      const found = readThrough(days(seed, 40, 800, () => [0.1, 0.125])).map(({ variants }) => variants[0])
      const first = found.findIndex((one) => one?.reading === 'better')
      expect(first).toBeGreaterThan(-1)
      expect(new Set(found.slice(first).map((one) => one?.reading))).toEqual(new Set(['better']))
      const widths = found.flatMap((one) => (one?.liftInterval ? [one.liftInterval[1] - one.liftInterval[0]] : []))
      expect(widths).toEqual([...widths].sort((one, other) => other - one))
    }
  })

  test('days that contradict each other are said to', () => {
    const turned = readThrough(days(1, 60, 4000, (day) => (day < 20 ? [0.1, 0.2] : [0.2, 0.1])))
    expect(turned.at(-1)?.variants[0]?.contradicts).toBe(true)
    expect(readThrough(days(1, 60, 4000, () => [0.1, 0.12])).at(-1)?.variants[0]?.contradicts).toBe(false)
  })

  test('one look at the end is shown at the planned end and not before', () => {
    const found = readThrough(days(7, 30, 1000, () => [0.1, 0.1])).map(({ variants }) => variants[0])
    expect(found.map((one) => one !== undefined && one.once !== null)).toEqual(
      Array.from({ length: 30 }, (_, day) => (found[day]?.total ?? 0) >= 20_000),
    )
  })
})

describe('a split that is changed', () => {
  const before = [arm(ORIGINAL, 10_000, 1000), arm(bold, 10_000, 1000)]
  const uneven = (version: VersionId, weight: number, exposed: number, converters: number): ArmCounts => ({
    ...arm(version, exposed, converters),
    weight,
  })

  test('does not make a better variant of one that only came when everybody bought', () => {
    // In the second epoch twice as many buy, and four in five see the variant: pooled it would be far ahead.
    const after = [uneven(ORIGINAL, 2000, 4000, 800), uneven(bold, 8000, 16_000, 3200)]
    const result = read(evidence([0, 0], [0, 0], { epochs: [before, after] }))
    expect(result.split.trusted).toBe(true)
    expect(result.variants[0]).toMatchObject({ reading: 'tooEarly', lift: expect.closeTo(0, 9) as number })
    const pooled = read(evidence([14_000, 1800], [26_000, 4200], {}))
    expect(pooled.variants[0]?.lift).toBeGreaterThan(0.2)
  })

  test('each epoch is held against its own weights', () => {
    const kept = [uneven(ORIGINAL, 2000, 10_000, 1000), uneven(bold, 8000, 10_000, 1000)]
    expect(read(evidence([0, 0], [0, 0], { epochs: [before, kept] })).split.trusted).toBe(false)
  })

  test('a variant that is switched off is read as it stood, whatever its visitors do not do any more', () => {
    const looks = [
      evidence([0, 0], [0, 0], { epochs: [[arm(ORIGINAL, 5000, 500), arm(bold, 5000, 650)]], days: 10 }),
      evidence([0, 0], [0, 0], {
        epochs: [
          [arm(ORIGINAL, 5000, 700), arm(bold, 5000, 650)],
          [uneven(ORIGINAL, 10_000, 9000, 900), uneven(bold, 0, 0, 0)],
        ],
      }),
    ]
    const [then, now] = readThrough(looks).map(({ variants }) => variants[0])
    expect(now).toEqual({ ...then, isOff: true })
    expect(leader(readThrough(looks)[1] ?? read(evidence([0, 0], [0, 0])))).toBeNull()
  })
})

test.each([
  ['a goal that nobody reaches any more', [5000, 500], [5000, 0], 'broken'],
  ['a goal that is reached as before', [200_000, 40_000], [200_000, 40_100], 'holds'],
  ['a goal that few have reached', [5000, 8], [5000, 7], 'open'],
  ['a goal that may be a little worse', [5000, 500], [5000, 470], 'open'],
] as const)('of %s the guard says so', (_, original, variant, word) => {
  expect(readGuard(read(evidence([...original], [...variant])), 0.05)).toEqual([{ version: bold, reading: word }])
})
