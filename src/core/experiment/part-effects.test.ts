import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import { partEffects } from '../stats'
import { combinations, designSchema } from './design'
import { effectsOfParts } from './part-effects'
import type { Evidence } from './reading'

const [short, loud, red] = ['short', 'loud', 'red'] as VersionId[] as [VersionId, VersionId, VersionId]
const all = combinations([
  [ORIGINAL, short, loud],
  [ORIGINAL, red],
])
const design = designSchema.parse({
  ...{ name: 'Two parts', problem: '', change: '', expected: '', document: 'home', node: 'title' },
  further: [{ document: 'home', node: 'button' }],
  arms: all.map((one) => ({ ...one, weight: 1000 })),
  ...{ share: 10_000, primary: 'reserved', watched: [], smallestEffect: 0.05 },
})
/** A rate for each combination, by what its parts show. */
const evidence = (
  rate: (title: VersionId, button: VersionId) => number,
  n = 4000,
  left: readonly VersionId[] = [],
): Evidence => ({
  epochs: [
    all
      .filter(({ version }) => !left.includes(version))
      .map(({ version, levels: [title = ORIGINAL, button = ORIGINAL] }) => ({
        ...{ version, weight: 1000, assigned: n, exposed: n },
        converters: Math.round(n * rate(title, button)),
      })),
  ],
  ...{ days: 20, smallestEffect: 0.05, plannedTotal: 24_000 },
})
const adding = (title: VersionId, button: VersionId) =>
  0.1 + (title === short ? 0.03 : title === loud ? -0.02 : 0) + (button === red ? 0.02 : 0)

test('each version of a part is told by what it adds, whatever the other part shows', () => {
  const found = effectsOfParts(design, evidence(adding))
  expect(found?.levels.map(({ part, version, difference }) => [part, version, difference?.toFixed(4)])).toEqual([
    [0, short, '0.0300'],
    [0, loud, '-0.0200'],
    [1, red, '0.0200'],
  ])
  for (const { difference, interval } of found?.levels ?? []) {
    expect(interval?.[0]).toBeLessThan(difference ?? NaN)
    expect(interval?.[1]).toBeGreaterThan(difference ?? NaN)
  }
  expect(found?.pairs.filter(({ beyondChance }) => beyondChance)).toEqual([])
})

test('a combination that was left out changes nothing of what is said', () => {
  const last = all.at(-1)?.version ?? ORIGINAL
  const found = effectsOfParts(design, evidence(adding, 4000, [last]))
  expect(found?.levels.map(({ difference }) => difference?.toFixed(4))).toEqual(['0.0300', '-0.0200', '0.0200'])
  // Of two versions that are never shown together it is not known what they would do.
  expect(found?.pairs.map(({ versions }) => versions)).toEqual([[short, red]])
})

test('two versions that do more together than each by itself are named', () => {
  const together = (title: VersionId, button: VersionId) => adding(title, button) + (title === short && button === red ? 0.05 : 0)
  const found = effectsOfParts(design, evidence(together))
  expect(found?.pairs[0]).toMatchObject({ versions: [short, red], parts: [0, 1], beyondChance: true })
  expect(found?.pairs[0]?.difference).toBeCloseTo(0.05, 6)
})

test('a combination that was switched off on the way counts as what it showed', () => {
  const now = { ...design, arms: design.arms.filter(({ levels: [title, button] }) => title !== short || button !== red) }
  const found = effectsOfParts({ ...now, arms: [...design.arms] }, evidence(adding))
  expect(found?.levels.map(({ difference }) => difference?.toFixed(4))).toEqual(['0.0300', '-0.0200', '0.0200'])
  // By the arms that are left alone it would be taken for something else.
  expect(effectsOfParts(now, evidence(adding))?.levels.map(({ difference }) => difference?.toFixed(4))).not.toEqual([
    '0.0300',
    '-0.0200',
    '0.0200',
  ])
})

test('little is no number, and of one part there is nothing to tell apart', () => {
  expect(effectsOfParts(design, evidence(adding, 20))?.levels.every(({ difference }) => difference === null)).toBe(true)
  expect(effectsOfParts(design, { ...evidence(adding), days: 0.5 })?.levels[0]?.difference).toBeNull()
  expect(effectsOfParts({ ...design, further: [] }, evidence(adding))).toBeNull()
})

test('rates that rise while the split follows them make no effect', () => {
  const cell = (stratum: number, level: number, n: number, rate: number) => ({
    stratum,
    levels: [level, 0],
    n,
    conversions: n * rate,
  })
  const { effects } = partEffects(
    [2, 1],
    [cell(0, 0, 5000, 0.1), cell(0, 1, 5000, 0.1), cell(1, 0, 2000, 0.2), cell(1, 1, 8000, 0.2)],
  )
  expect(effects[0]?.difference).toBeCloseTo(0, 10)
})

test('what is said of its error is what chance makes of it', () => {
  const { effects } = partEffects(
    [2, 2],
    [0, 1].flatMap((one) => [0, 1].map((other) => ({ stratum: 0, levels: [one, other], n: 1000, conversions: 100 }))),
  )
  // Two halves of 2,000 each.
  expect(effects[0]?.standardError).toBeCloseTo(Math.sqrt((2 * 0.09) / 2000), 8)
})
