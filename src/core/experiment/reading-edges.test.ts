import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import { katz, mixtureInterval, mixturePValue, newcombe, pooledTest, mixtureFor } from '../stats'
import { enoughOf, leader, read, readThrough, type ArmCounts, type Evidence, type VariantResult } from './reading'

const [bold, calm] = ['bold', 'calm'] as VersionId[] as [VersionId, VersionId]
const arm = (version: VersionId, exposed: number, converters: number, more: Partial<ArmCounts> = {}): ArmCounts => ({
  ...{ version, weight: 5000, assigned: exposed, exposed, converters },
  ...more,
})
const evidence = (epochs: readonly (readonly ArmCounts[])[], more: Partial<Evidence> = {}): Evidence => ({
  ...{ epochs, days: 14, smallestEffect: 0.05, plannedTotal: 20_000 },
  ...more,
})
const two = (original: readonly [number, number], variant: readonly [number, number], more: Partial<Evidence> = {}) =>
  evidence([[arm(ORIGINAL, ...original), arm(bold, ...variant)]], more)
const first = (of: Evidence): VariantResult => {
  const [found] = read(of).variants
  if (found === undefined) throw new Error('there is no variant')
  return found
}
/** With two variants, each of the three drawn alike. */
const three = (counts: readonly (readonly [number, number])[], more: Partial<Evidence> = {}) =>
  evidence([counts.map(([n, c], at) => arm([ORIGINAL, bold, calm][at] ?? ORIGINAL, n, c, { weight: 3333 }))], more)

describe('enough to say anything is', () => {
  test.each<[string, Evidence, VariantResult['wait'], number | null]>([
    ['100 who saw each, and not 99', two([100, 40], [99, 40]), 'fewExposed', 3],
    ['that of the fewer', two([4000, 400], [50, 20]), 'fewExposed', Math.ceil((50 * 4050) / 50)],
    ['200 where nobody saw one of them', two([5000, 400], [0, 0]), 'fewExposed', 200],
    ['10 of either who reached it, and not 9', two([1000, 9], [1000, 3]), 'fewConverters', Math.ceil(2000 / 9)],
    ['unknown where nobody did', two([1000, 0], [1000, 0]), 'fewConverters', null],
    ['10 of the variant alone', two([1000, 0], [1000, 10]), 'unclear', null],
    ['a day, and not less', two([1000, 100], [1000, 100], { days: 0.99 }), 'lessThanADay', null],
    ['no more than these', two([100, 10], [100, 10], { days: 1 }), 'unclear', null],
  ])('%s', (_, of, wait, short) => expect(first(of)).toMatchObject({ wait, short }))

  test('what is too early has no interval, and a lift as far as there is one', () => {
    expect(first(two([90, 30], [90, 45]))).toMatchObject({
      lift: 0.5,
      liftInterval: null,
      differenceInterval: null,
      pValue: null,
      once: null,
    })
    expect(first(two([90, 0], [90, 45])).lift).toBeNull()
  })
})

test('what is first has to be the original, and nothing at all cannot be read', () => {
  expect(() => read(evidence([[arm(bold, 1000, 100)]]))).toThrow('the first arm must be the original')
  expect(() => read(evidence([]))).toThrow('the first arm must be the original')
  expect(readThrough([])).toEqual([])
})

describe('the p that may be looked at', () => {
  const of = two([5000, 500], [5000, 580])
  const watched = (n: number, p1: number, p2: number) => ({
    estimate: p2 - p1,
    standardError: Math.sqrt((p1 * (1 - p1) + p2 * (1 - p2)) / n),
    total: 2 * n,
  })

  test('is that of the sequence, for all variants together', () => {
    const alone = mixturePValue(watched(5000, 0.1, 0.116), mixtureFor(20_000, 0.05)) ?? NaN
    expect(first(of).pValue).toBeCloseTo(alone, 10)
    const [one] = read(
      three([
        [5000, 500],
        [5000, 580],
        [5000, 510],
      ]),
    ).variants
    expect(one?.pValue).toBeCloseTo(2 * (mixturePValue(watched(5000, 0.1, 0.116), mixtureFor(20_000, 0.025)) ?? NaN), 10)
    // Never more than certain.
    expect(
      read(
        three([
          [5000, 500],
          [5000, 501],
          [5000, 500],
        ]),
      ).variants[0]?.pValue,
    ).toBe(1)
  })

  test('is the smallest of the round', () => {
    const [, late] = readThrough([of, two([9000, 950], [9000, 960])])
    expect(late?.variants[0]?.pValue).toBe(first(of).pValue)
  })

  test('and the interval are at 95% shared between the variants', () => {
    const [one] = read(
      three([
        [5000, 500],
        [5000, 580],
        [5000, 510],
      ]),
    ).variants
    const expected = mixtureInterval(watched(5000, 0.1, 0.116), mixtureFor(20_000, 0.025))
    expect(one?.differenceInterval?.[0]).toBeCloseTo(expected?.[0] ?? NaN, 10)
    expect(one?.differenceInterval?.[1]).toBeCloseTo(expected?.[1] ?? NaN, 10)
  })
})

describe('one look', () => {
  const [original, variant] = [
    { n: 5000, conversions: 500 },
    { n: 5000, conversions: 580 },
  ]

  test('is there once the planned total is reached, and not a visitor before', () => {
    expect(first(two([5000, 500], [5000, 580], { plannedTotal: 10_001 })).once).toBeNull()
    expect(first(two([5000, 500], [5000, 580], { plannedTotal: 10_000 })).once).toEqual({
      lift: katz(original, variant, 0.95),
      difference: newcombe(original, variant, 0.95),
      pValue: pooledTest(original, variant).pValue,
    })
  })

  test('takes the number of variants into account', () => {
    const { once } =
      read(
        three(
          [
            [5000, 500],
            [5000, 580],
            [5000, 510],
          ],
          { plannedTotal: 10_000 },
        ),
      ).variants[0] ?? {}
    expect(once).toEqual({
      lift: katz(original, variant, 0.975),
      difference: newcombe(original, variant, 0.975),
      pValue: 2 * pooledTest(original, variant).pValue,
    })
    const alike = read(
      three(
        [
          [5000, 500],
          [5000, 500],
          [5000, 510],
        ],
        { plannedTotal: 10_000 },
      ),
    ).variants[0]
    expect(alike?.once?.pValue).toBe(1)
  })
})

describe('the split', () => {
  test('is watched for those who saw it as well as for those who were sent it', () => {
    const lost = evidence([[arm(ORIGINAL, 10_000, 1000), arm(bold, 8800, 900, { assigned: 10_000 })]])
    expect(read(lost).split).toMatchObject({ assigned: 1, trusted: false })
    expect(read(lost).split.exposed).toBeLessThan(0.001)
    const sent = evidence([[arm(ORIGINAL, 10_000, 1000), arm(bold, 10_000, 900, { assigned: 12_000 })]])
    expect(read(sent).split).toMatchObject({ exposed: 1, trusted: false })
    expect(read(lost).variants[0]?.reading).toBe('notToBeTrusted')
  })

  test('that was ever beyond belief stays so', () => {
    const [, later] = readThrough([
      evidence([[arm(ORIGINAL, 5000, 100), arm(bold, 4000, 90)]]),
      evidence([[arm(ORIGINAL, 10_000, 1000), arm(bold, 10_000, 1200)]]),
    ])
    expect(later?.split.trusted).toBe(false)
  })

  test('of a stretch in which one version alone was drawn says nothing', () => {
    const alone = [arm(ORIGINAL, 9000, 900, { weight: 10_000 }), arm(bold, 0, 0, { weight: 0 })]
    expect(read(evidence([[arm(ORIGINAL, 1000, 100), arm(bold, 1000, 100)], alone])).split.trusted).toBe(true)
  })
})

test('who came while a variant was not drawn is no part of its comparison, and of its table', () => {
  const together = [arm(ORIGINAL, 60, 30), arm(bold, 60, 30)]
  const before = [arm(ORIGINAL, 5000, 2500, { weight: 10_000 }), arm(bold, 0, 0, { weight: 0 })]
  const { rates, variants } = read(evidence([before, together]))
  expect(variants[0]).toMatchObject({ wait: 'fewExposed', short: 80, total: 120 })
  expect(rates[0]).toMatchObject({ exposed: 5060, converters: 2530 })
})

describe('a variant that is switched off', () => {
  const running = [arm(ORIGINAL, 5000, 500), arm(bold, 5000, 700)]
  const off = [arm(ORIGINAL, 3000, 100, { weight: 10_000 }), arm(bold, 900, 0, { weight: 0 })]

  test('is read as it stood, whatever the original does since, and leads no more', () => {
    const [then, now] = readThrough([evidence([running]), evidence([running, off])])
    expect(then?.variants[0]).toMatchObject({ reading: 'better', isOff: false })
    expect(now?.variants[0]).toEqual({ ...then?.variants[0], isOff: true })
    expect(then && leader(then)?.version).toBe(bold)
    expect(now && leader(now)).toBeNull()
    const [, , later] = readThrough([
      evidence([running]),
      evidence([running, off]),
      evidence([running, [arm(ORIGINAL, 9000, 900, { weight: 10_000 }), off[1] ?? arm(bold, 0, 0)]]),
    ])
    expect(later?.variants[0]).toEqual(now?.variants[0])
  })

  test('is not off for having had no share in its only stretch', () => {
    expect(
      read(evidence([[arm(ORIGINAL, 5000, 500, { weight: 10_000 }), arm(bold, 0, 0, { weight: 0 })]])).variants[0]?.isOff,
    ).toBe(false)
  })

  test('is not to be trusted where the counts are not', () => {
    const [, now] = readThrough([
      evidence([running]),
      evidence(
        [running, [arm(ORIGINAL, 9000, 100, { weight: 5000 }), arm(bold, 0, 0, { weight: 0 }), arm(calm, 3000, 100)]].map(
          (arms) => (arms.length === 2 ? [...arms, arm(calm, 5000, 500)] : arms),
        ),
      ),
    ])
    expect(now?.split.trusted).toBe(false)
    expect(now?.variants[0]).toMatchObject({ reading: 'notToBeTrusted', isOff: true })
  })
})

test('looks that contradict each other say so for good, and keep what was read before', () => {
  const looks = readThrough([
    two([20_000, 2000], [20_000, 2600]),
    two([40_000, 6000], [40_000, 4200]),
    two([60_000, 7000], [60_000, 7000]),
  ])
  expect(looks.map(({ variants }) => variants[0]?.contradicts)).toEqual([false, true, true])
  expect(looks[1]?.variants[0]?.liftInterval).toEqual(looks[0]?.variants[0]?.liftInterval)
  expect(looks.map(({ variants }) => variants[0]?.reading)).toEqual(['better', 'better', 'better'])
})

test.each([
  ['the one that gains most', 700, 800, calm],
  ['whichever that is', 800, 700, bold],
  ['the first of those that gain alike', 700, 700, bold],
  ['nobody where none is better', 500, 300, undefined],
])('of several %s leads', (_, one, other, leads) => {
  const counts = [500, one, other].map((converters): [number, number] => [5000, converters])
  expect(leader(read(three(counts)))?.version).toBe(leads)
})

describe('over epochs', () => {
  const original = arm(ORIGINAL, 3000, 300)
  const variant = arm(bold, 3000, 390)
  const none = (version: VersionId) => arm(version, 0, 0, { weight: 0 })

  test('where one of the two could not be drawn there is nothing to compare', () => {
    const solo = [arm(ORIGINAL, 9000, 10, { weight: 10_000 }), none(bold)]
    const other = [arm(ORIGINAL, 800, 700, { weight: 0 }), arm(bold, 9000, 10, { weight: 10_000 })]
    const alone = first(evidence([[original, variant]]))
    for (const lone of [solo, other]) {
      const found = first(evidence([lone, [original, variant]]))
      expect([found.lift, found.total, found.liftInterval]).toEqual([alone.lift, alone.total, alone.liftInterval])
    }
  })

  test('a variant is off that is given to nobody any more, and not one that was given to nobody at first', () => {
    const [later, sooner] = [
      [
        [original, variant],
        [original, none(bold)],
      ],
      [
        [original, none(bold)],
        [original, variant],
      ],
    ]
    expect(first(evidence(later ?? [])).isOff).toBe(true)
    expect(first(evidence(sooner ?? [])).isOff).toBe(false)
    expect(first(evidence([[original, none(bold)]])).isOff).toBe(false)
  })

  test('what was found of a variant stays as it stood when it was switched off', () => {
    const [was, is] = readThrough([
      evidence([[original, arm(bold, 3000, 500)]]),
      evidence([
        [original, arm(bold, 3000, 500)],
        [arm(ORIGINAL, 9000, 2900), none(bold)],
      ]),
    ]).map(({ variants }) => variants[0])
    expect(is).toEqual({ ...was, isOff: true })
    expect(was?.reading).toBe('better')
  })
})

test('there is enough of a variant from 100 visitors and 10 who reached the goal', () => {
  const enough = (counts: readonly [number, number]) => enoughOf([[arm(ORIGINAL, 1000, 5), arm(bold, ...counts)]], 1)
  expect([enough([100, 10]), enough([99, 10]), enough([100, 9])]).toEqual([true, false, false])
})
