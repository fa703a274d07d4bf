import { armAt, bucket, numberOf, ORIGINAL, unitOf } from '../decide'
import { read, type ArmCounts } from '../experiment'
import type { VersionId } from '../ids'
import { visitors, type Crowd } from '.'

const crowd: Crowd = { seed: 7, visitors: 20_000, days: 21, startsAt: new Date('2026-03-02T00:00:00Z') }

test('the same seed brings the same crowd, another seed another', () => {
  const few = { ...crowd, visitors: 50 }
  expect([...visitors(few)]).toEqual([...visitors(few)])
  expect([...visitors(few)]).not.toEqual([...visitors({ ...few, seed: 8 })])
})

test('the same people come on whatever day of the week they begin to', () => {
  const who = (startsAt: Date) => [...visitors({ ...crowd, startsAt })].map(({ id, luck, device }) => [id, luck, device])
  expect(who(new Date('2026-03-03T00:00:00Z'))).toEqual(who(crowd.startsAt))
})

test('as many come as were asked for, in order, within the days, each under an own id', () => {
  const all = [...visitors(crowd)]
  const times = all.map(({ arrivesAt }) => arrivesAt.getTime())
  expect(all).toHaveLength(20_000)
  expect(new Set(all.map(({ id }) => id)).size).toBe(20_000)
  expect(times).toEqual([...times].sort((a, b) => a - b))
  expect(times.at(-1)).toBeLessThan(crowd.startsAt.getTime() + 21 * 86_400_000)
})

/** Splits a crowd as the site would and counts who converts at these true rates. */
function outcome(seed: number, rates: readonly [number, number]): ArmCounts[] {
  const arms = [ORIGINAL, 'variant' as VersionId].map((version) => ({
    version,
    weight: 5000,
    assigned: 0,
    exposed: 0,
    converters: 0,
  }))
  for (const { id, luck } of visitors({ ...crowd, seed })) {
    const index = armAt(arms, bucket(numberOf(`salt-${seed}`), unitOf(id))) === ORIGINAL ? 0 : 1
    const arm = arms[index]
    if (arm === undefined) continue
    arm.assigned++
    arm.exposed++
    if (luck < (rates[index] ?? 0)) arm.converters++
  }
  return arms
}
const reading = (seed: number, rates: readonly [number, number]) =>
  read({ epochs: [outcome(seed, rates)], days: 21, smallestEffect: 0.05, plannedTotal: 20_000 }).variants[0]

test('a set effect is found, and an interval holds it', () => {
  const result = reading(1, [0.1, 0.12])
  expect(result?.reading).toBe('better')
  expect(result?.liftInterval?.[0]).toBeLessThan(0.2)
  expect(result?.liftInterval?.[1]).toBeGreaterThan(0.2)
})

test('forty crowds without an effect: none is called better or worse', () => {
  const called = Array.from({ length: 40 }, (_, seed) => reading(seed + 100, [0.1, 0.1])?.reading)
  expect(called.filter((word) => word === 'better' || word === 'worse')).toEqual([])
})
