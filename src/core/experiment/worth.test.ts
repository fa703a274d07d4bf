import type { VersionId } from '../ids'
import { worthClass, worthUpTo } from '../ledger'
import { lotsOf } from '../simulate'
import { readWorth as readWhole, type WorthCounts } from './worth'

const readWorth = (...of: Parameters<typeof readWhole>) => readWhole(...of).arms

interface Person {
  readonly visits: number
  readonly worth: number
}

function counted(version: string, people: readonly Person[]): WorthCounts {
  const sum = (of: (person: Person) => number) => people.reduce((total, person) => total + of(person), 0)
  return {
    version: version as VersionId,
    weight: 5000,
    exposed: people.length,
    converters: people.filter(({ worth }) => worth > 0).length,
    worth: sum(({ worth }) => worth),
    worthSquared: sum(({ worth }) => worth ** 2),
    visits: sum(({ visits }) => visits),
    visitsSquared: sum(({ visits }) => visits ** 2),
    visitsWorth: sum(({ visits, worth }) => visits * worth),
  }
}

/** People of whom a share brings `worth`, each in one to three visits; more visits, more worth. */
function crowd(seed: number, size: number, share: number, worth: number): Person[] {
  const lots = lotsOf(seed)
  return Array.from({ length: size }, () => {
    const visits = 1 + Math.floor(lots() * 3)
    return { visits, worth: lots() < share * visits ? worth : 0 }
  })
}
const same = counted('original', crowd(1, 8000, 0.03, 20))

describe('worth', () => {
  test('per visitor and per visit are what was brought by either', () => {
    const [only] = readWorth(
      [
        [
          counted('original', [
            { visits: 3, worth: 10 },
            { visits: 1, worth: 0 },
          ]),
        ],
      ],
      1000,
      true,
    )
    expect(only).toMatchObject({ perVisitor: 5, perVisit: 2.5, difference: null, visitDifference: null })
  })

  test('a real gain is found in both, and none where there is none', () => {
    const better = readWorth([[same, counted('better', crowd(2, 8000, 0.05, 20))]], 16_000, true)[1]
    expect(better?.difference?.[0]).toBeGreaterThan(0)
    expect(better?.visitDifference?.[0]).toBeGreaterThan(0)
    const alike = readWorth([[same, counted('alike', crowd(3, 8000, 0.03, 20))]], 16_000, true)[1]
    expect(alike?.difference?.[0]).toBeLessThan(0)
    expect(alike?.difference?.[1]).toBeGreaterThan(0)
    expect(alike?.visitDifference?.[0]).toBeLessThan(0)
    expect(alike?.visitDifference?.[1]).toBeGreaterThan(0)
  })

  test('exchanging the versions mirrors the intervals', () => {
    const other = counted('other', crowd(2, 6000, 0.05, 20))
    const [there, back] = [readWorth([[same, other]], 16_000, true)[1], readWorth([[other, same]], 16_000, true)[1]]
    expect(back?.visitDifference?.[0]).toBeCloseTo(-(there?.visitDifference?.[1] ?? NaN), 9)
    expect(back?.difference?.[1]).toBeCloseTo(-(there?.difference?.[0] ?? NaN), 9)
  })

  test('says nothing of nobody, of one person, and where all are alike', () => {
    const none = counted('none', [])
    expect(readWorth([[none, none]], 100, true)[1]).toMatchObject({
      perVisitor: null,
      perVisit: null,
      difference: null,
      visitDifference: null,
    })
    const one = counted('one', [{ visits: 1, worth: 4 }])
    expect(readWorth([[one, one]], 100, true)[1]).toMatchObject({ perVisitor: 4, difference: null, visitDifference: null })
    const alike = counted(
      'alike',
      Array.from({ length: 50 }, () => ({ visits: 2, worth: 6 })),
    )
    expect(readWorth([[alike, alike]], 100, true)[1]).toMatchObject({ perVisit: 3, difference: null, visitDifference: null })
  })
})

describe('a few who buy much', () => {
  /** As counting keeps them: by the class of what each has brought. */
  const classed = (version: string, people: readonly Person[]): WorthCounts => {
    const classes = new Map<number, Person[]>()
    for (const person of people) {
      const of = worthClass(person.worth)
      if (of !== null) classes.set(of, [...(classes.get(of) ?? []), person])
    }
    return {
      ...counted(version, people),
      classes: [...classes].map(([of, own]) => {
        const { worth, worthSquared, visits, visitsWorth } = counted(version, own)
        return { upTo: worthUpTo(of), visitors: own.length, worth, worthSquared, visits, visitsWorth }
      }),
    }
  }
  const buyers = (seed: number, size: number, share: number): Person[] => {
    const lots = lotsOf(seed)
    return Array.from({ length: size }, () => ({
      visits: 1 + Math.floor(lots() * 3),
      // A long tail: one in two hundred of those who buy spends a hundred times as much.
      worth: lots() < share ? (lots() < 0.005 ? 4000 : 20 + 40 * lots()) : 0,
    }))
  }

  test('count as if they had brought what 99 in 100 did not pass, in every version alike, and it is said', () => {
    const [one, other] = [buyers(7, 20_000, 0.1), buyers(8, 20_000, 0.1)]
    const { cap, arms } = readWhole([[classed('original', one), classed('bold', other)]], 40_000, true)
    expect(cap).toMatchObject({ visitors: [...one, ...other].filter(({ worth }) => worth === 4000).length })
    // The cap is the upper edge of the class in which the percentile lies: with that put on them by hand, the same mean.
    const upTo = cap?.upTo ?? 0
    expect(upTo).toBeGreaterThanOrEqual(60)
    expect(upTo).toBeLessThan(60 * 1.1)
    const byHand = one.reduce((sum, { worth }) => sum + Math.min(worth, upTo), 0) / one.length
    expect(arms[0]?.perVisitor).toBeCloseTo(byHand, 9)
    const wide = (of: readonly [number, number] | null | undefined) => (of == null ? Infinity : of[1] - of[0])
    const uncapped = readWorth([[counted('original', one), counted('bold', other)]], 40_000, true)
    expect(wide(arms[1]?.difference)).toBeLessThan(wide(uncapped[1]?.difference) / 3)
  })

  test('nothing is capped where nobody stands out, where few bought, or where it was not counted from the beginning', () => {
    const even = crowd(3, 8000, 0.03, 20)
    expect(readWhole([[classed('original', even)]], 8000, true).cap).toBeNull()
    expect(readWhole([[classed('original', buyers(7, 600, 0.1))]], 600, true).cap).toBeNull()
    const late = classed('original', buyers(7, 20_000, 0.1))
    expect(readWhole([[{ ...late, worth: late.worth * 1.2 }]], 20_000, true).cap).toBeNull()
  })

  test('classes are a tenth wide, and what was paid back is in none', () => {
    for (const worth of [0.01, 0.99, 1, 7, 240, 1e6]) {
      const of = worthClass(worth) ?? NaN
      expect(worthUpTo(of) * (1 + 1e-12)).toBeGreaterThan(worth)
      expect(worthUpTo(of - 1)).toBeLessThanOrEqual(worth * (1 + 1e-12))
    }
    expect([worthClass(0), worthClass(-3)]).toEqual([null, null])
  })
})
