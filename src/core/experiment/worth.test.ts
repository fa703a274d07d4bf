import type { VersionId } from '../ids'
import { lotsOf } from '../simulate'
import { readWorth, type WorthCounts } from './worth'

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
