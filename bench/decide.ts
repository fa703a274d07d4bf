import {
  decide,
  fitting,
  numbersOf,
  ORIGINAL,
  stranger,
  unitOf,
  type Condition,
  type Draw,
  type Ladder,
  type Visitor,
} from '@/core/decide'
import type { RoundId, TestId, VersionId } from '@/core/ids'

const VISITORS = 50_000
const TURNS = 7
const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN

const draws = Array.from({ length: 10 }, (_, at): Draw => ({
  test: `t-${at}` as TestId,
  round: `t-${at}-r1` as RoundId,
  numbers: numbersOf(`t-${at}`),
  share: 9000,
  arms: [ORIGINAL, ...['a', 'b', 'c'].map((version) => version as VersionId)].map((version) => ({ version, weight: 2500 })),
  paused: false,
}))
const tree: Condition = {
  kind: 'all',
  of: [
    {
      kind: 'any',
      of: [
        { kind: 'device', device: 'phone' },
        { kind: 'language', language: 'cy' },
      ],
    },
    { kind: 'none', of: [{ kind: 'region', region: 'XP-FE' }] },
    { kind: 'weekday', days: [1, 2, 3, 4, 5] },
  ],
}
const ladders = Array.from({ length: 10 }, (_, at): Ladder => ({
  id: `p-${at}`,
  rules: [{ version: 'v' as VersionId, fits: fitting(tree) }],
  holdout: 1000,
  held: at,
}))
const visitors = Array.from({ length: VISITORS }, (_, n): Visitor => ({
  ...stranger,
  id: n.toString(16).padStart(32, '0'),
  device: n % 2 === 0 ? 'phone' : 'computer',
}))

/** Decisions per second on one processor, each visitor different: by ten tests, and by ten trees of five comparisons. */
export function benchDecide(): void {
  const rate = (work: (visitor: Visitor) => void) => {
    const rates: number[] = []
    for (let turn = 0; turn <= TURNS; turn++) {
      const began = performance.now()
      for (const visitor of visitors) work(visitor)
      if (turn > 0) rates.push((VISITORS * 10) / (performance.now() - began) / 1000)
    }
    return median(rates)
  }
  const read = rate((visitor) => unitOf(visitor.id ?? '')) / 10
  const drawn = rate((visitor) => decide({ draws, ladders: [] }, visitor))
  const climbed = rate((visitor) => decide({ draws: [], ladders }, visitor))
  console.log(
    `decide: ${drawn.toFixed(1)} million decisions of tests a second (aim 1), ${climbed.toFixed(1)} million of rules (aim 1)`,
  )
  console.log(`decide: ten tests cost as much as reading ${((10 * read) / drawn).toFixed(1)} visitors' numbers`)
}
