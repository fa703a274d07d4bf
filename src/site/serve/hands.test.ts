import { decide, numberOf, numbersOf, ORIGINAL, stranger, unitOf, type Draw, type Ladder, type Visitor } from '@/core/decide'
import type { RoundId, TestId, VersionId } from '@/core/ids'
import { lotsOf } from '@/core/simulate'
import type { CompiledPage } from '../compile/compile'
import { compiledWith, greetingRound } from '../test-site'
import { Hands, type Shown } from './hands'

const lots = lotsOf(11)
const below = (bound: number) => Math.floor(lots() * bound)
const pick = <Of>(from: readonly Of[]): Of => from[below(from.length)] as Of
const [bold, soft] = ['bold', 'soft'] as [VersionId, VersionId]
const plain = compiledWith({ rounds: [greetingRound()] }).pages.get('/') as CompiledPage

function drawNamed(test: string): Draw {
  const apart = { number: numberOf('group'), places: [[0, 4000] as const] }
  return {
    ...{ test: test as TestId, round: `${test}-r1` as RoundId, numbers: numbersOf(test), paused: below(6) === 0 },
    share: pick([10_000, 10_000, 3000]),
    arms: [ORIGINAL, bold, soft].map((version, at) => ({ version, weight: [2000, 5000, 3000][at] ?? 0 })),
    ...(below(4) === 0 ? { keeping: pick(['visit', 'view'] as const) } : {}),
    ...(below(4) === 0 ? { audience: ({ device }: Visitor) => device === 'phone' } : {}),
    ...(below(6) === 0 ? { apart } : {}),
    ...(below(6) === 0 ? { keptOnly: true } : {}),
    ...(below(4) === 0 ? { keptAs: `${test}-g2` as TestId } : {}),
  }
}

const ladderNamed = (id: string): Ladder => ({
  ...{ id, holdout: pick([0, 4000]), held: numberOf(id) },
  rules: [
    { version: 'by-phone' as VersionId, fits: ({ device }) => device === 'phone' },
    { version: 'again' as VersionId, fits: ({ visits }) => visits > 1 },
  ],
})

function pageOf(tests: number, ladders: number): CompiledPage {
  const draws = Array.from({ length: tests }, (_, at) => drawNamed(`t-${at}`))
  return {
    ...plain,
    ...{ draws, roundNumbers: draws.map(({ round }) => numberOf(round)), ladders: [] },
    ...{ ladders: Array.from({ length: ladders }, (_, at) => ladderNamed(`l-${at}`)), gains: Array(ladders).fill(null) },
  }
}

/** Few sets of kept versions, each one object, as they are read from what browsers say. */
const keptBy = (page: CompiledPage) =>
  Array.from({ length: 6 }, (_, at): Visitor['kept'] => {
    const pairs = page.draws.flatMap(({ test, keptAs = test }) =>
      at === 0 || below(5) === 0 ? [] : [[keptAs, pick([ORIGINAL, bold, soft, 'gone' as VersionId])] as const],
    )
    return new Map(pairs)
  })

function somebody(kept: readonly Visitor['kept'][]): Visitor {
  return {
    ...stranger,
    id: String(below(1e6)).padStart(32, '0'),
    ...{ visit: String(below(3)), view: String(below(1e6)), kept: pick(kept) },
    ...{ device: pick(['phone', 'computer']), visits: 1 + below(2) },
    leftOut: below(10) === 0 ? pick(['bot', 'withheld'] as const) : null,
  }
}

/** As far as anything of it is shown. */
const shown = ({ key, version, counted, reason }: Shown) => [key, version, counted, counted ? (reason.rule ?? null) : null]
const heldOut = ({ counted, reason }: Shown) => counted && reason.code === 'heldOut'

// The last is of more hands than there are whole numbers.
test.each([
  [0, 0],
  [1, 0],
  [0, 1],
  [5, 2],
  [40, 1],
])('of %d tests and %d ladders each visitor has what is decided of them, whoever had the same before', (tests, ladders) => {
  for (let time = 0; time < 20; time++) {
    const page = pageOf(tests, ladders)
    const [hands, kept] = [new Hands(page), keptBy(page)]
    for (let asked = 0; asked < 60; asked++) {
      const visitor = somebody(kept)
      const unit = visitor.leftOut === 'withheld' ? null : unitOf(visitor.id ?? '')
      const expected = decide(page, visitor, unit)
      const hand = hands.of(visitor, unit)
      expect(hand.decisions.map(shown)).toEqual(expected.map(shown))
      expect(hand.decisions.map(heldOut)).toEqual(expected.map(heldOut))
      const counted = page.draws.filter(({ test }) => expected.some(({ key, counted: is }) => key === test && is))
      expect(hand.given.map(({ draw }) => draw)).toEqual(counted)
      expect(hand.lasting.map(({ draw }) => draw)).toEqual(counted.filter(({ keeping }) => keeping !== 'view'))
      const carried = new Set(counted.slice(0, 1).map(({ test, keptAs = test }) => keptAs))
      const brought = hands.of(visitor, unit, carried)
      expect(brought.decisions.map(shown)).toEqual(expected.map(shown))
      expect(brought.given.map(({ draw }) => draw)).toEqual(counted.slice(1))
      if (tests < 40) expect(hands.of(visitor, unit)).toBe(hand)
      // What a browser is known to keep is what it would be given.
      if (hands.areKept(visitor) && visitor.leftOut === null)
        for (const { draw, version } of hand.lasting)
          expect(visitor.kept.get(draw?.keptAs ?? (draw?.test as TestId))).toBe(version)
    }
  }
})

test('two hands that differ in anything have two numbers', () => {
  const page = pageOf(5, 2)
  const [hands, kept] = [new Hands(page), keptBy(page)]
  const numbers = new Map<number, string>()
  for (let asked = 0; asked < 2000; asked++) {
    const visitor = somebody(kept)
    const hand = hands.of(visitor, unitOf(visitor.id ?? ''))
    const words = JSON.stringify(hand.given.map(({ round, version }) => [round, version]))
    expect(numbers.get(hand.number) ?? words).toBe(words)
    numbers.set(hand.number, words)
  }
  expect(numbers.size).toBeGreaterThan(20)
})
