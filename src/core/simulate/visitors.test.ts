import { armAt, bucket, numberOf, ORIGINAL, unitOf } from '../decide'
import { read, type ArmCounts } from '../experiment'
import type { VersionId } from '../ids'
import { goalSchema } from '../goals'
import { goalsApart, lotFor, mixSchema, orderWorth, usualMix, visitors, type Crowd } from '.'

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

test('the mix says who they are, and brings the same people otherwise', () => {
  const mix = mixSchema.parse({
    ...{ devices: { phone: 0.2, tablet: 0.3 }, sources: { search: 0.5, newsletter: 0.2, elsewhere: 0.1 } },
    ...{ region: { code: 'XP-LO', share: 0.4 }, weekends: 0.1, returning: 0.25, bots: 0.05, studioUsers: 0.02, agree: 0.6 },
  })
  const some = { ...crowd, visitors: 6000 }
  const all = [...visitors({ ...some, mix })]
  const share = (fits: (one: (typeof all)[number]) => boolean) => all.filter(fits).length / all.length
  expect(share(({ device }) => device === 'phone')).toBeCloseTo(0.2, 1)
  expect(share(({ device }) => device === 'computer')).toBeCloseTo(0.5, 1)
  expect(share(({ origin }) => origin === 'search')).toBeCloseTo(0.5, 1)
  expect(share(({ origin }) => origin === 'direct')).toBeCloseTo(0.2, 1)
  expect(share(({ home }) => home === 'XP-LO')).toBeCloseTo(0.4, 1)
  expect(share(({ who }) => who === 'bot')).toBeCloseTo(0.05, 2)
  expect(share(({ who }) => who === 'studioUser')).toBeCloseTo(0.02, 2)
  expect(share(({ returns }) => returns)).toBeCloseTo(0.25, 1)
  expect(share(({ agrees }) => agrees)).toBeCloseTo(0.6, 1)
  // Two days of seven bring a tenth each of what another brings.
  expect(share(({ arrivesAt }) => [0, 6].includes(arrivesAt.getUTCDay()))).toBeCloseTo(0.2 / 5.2, 2)
  const who = (of: readonly { id: string; luck: number; ponders: number }[]) =>
    of.map(({ id, luck, ponders }) => [id, luck, ponders])
  expect(who(all)).toEqual(who([...visitors(some)]))
  expect([...visitors({ ...crowd, mix: usualMix, visitors: 50 })].map(({ device }) => device)).toEqual(
    [...visitors({ ...crowd, visitors: 50 })].map(({ device }) => device),
  )
})

test('where nobody comes at weekends, on a weekend alone they come all the same', () => {
  const saturday = new Date('2026-03-07T00:00:00Z')
  const came = (startsAt: Date, days: number) =>
    [...visitors({ seed: 1, visitors: 100, days, startsAt, mix: { ...usualMix, weekends: 0 } })].map(({ arrivesAt }) =>
      arrivesAt.getUTCDay(),
    )
  expect(new Set(came(saturday, 2))).toEqual(new Set([6, 0]))
  expect(came(saturday, 1)).toHaveLength(100)
  expect(new Set(came(saturday, 3))).toEqual(new Set([1]))
})

test('shares that are more than all are refused where they stand', () => {
  const fault = (mix: object) => mixSchema.safeParse(mix).error?.issues[0]?.path
  expect(fault({ devices: { phone: 0.8, tablet: 0.3 } })).toEqual(['devices'])
  expect(fault({ sources: { search: 0.8, newsletter: 0.1, elsewhere: 0.2 } })).toEqual(['sources'])
  expect(fault({ sources: { search: 0.7, newsletter: 0.2, elsewhere: 0.1 } })).toBeUndefined()
})

test('orders are worth their mean, the more unlike each other the longer their tail', () => {
  const came = [...visitors(crowd)]
  const worths = (noise: 'same' | 'little' | 'longTail') => came.map(({ id }) => orderWorth({ mean: 40, noise }, id))
  const mean = (of: readonly number[]) => of.reduce((sum, one) => sum + one, 0) / of.length
  expect(new Set(worths('same'))).toEqual(new Set([40]))
  expect(mean(worths('little'))).toBeCloseTo(40, 0)
  const tail = worths('longTail')
  expect(Math.abs(mean(tail) - 40)).toBeLessThan(3)
  expect(Math.max(...tail)).toBeGreaterThan(10 * mean(tail))
  // None is worth more than can be reported.
  expect(Math.max(...came.map(({ id }) => orderWorth({ mean: 1_000_000, noise: 'longTail' }, id)))).toBe(1_000_000)
  expect(orderWorth({ mean: 0, noise: 'longTail' }, 'ff')).toBe(0)
  const lots = came.map(({ id }) => [lotFor(id, 'worth'), lotFor(id, 'g-2')] as const)
  expect(mean(lots.map(([one, other]) => (one - 0.5) * (other - 0.5)))).toBeCloseTo(0, 2)
})

test('a goal has a rate of its own where nothing that is done for it is what the deciding one counts, and the other way about', () => {
  const goal = (id: string, wiring: object) => goalSchema.parse({ id, name: id, wiring })
  const goals = [
    goal('press', { kind: 'click', document: 'home', node: 'go' }),
    goal('asked', { kind: 'event', event: 'asked' }),
    goal('either', { kind: 'anyOf', goals: ['press', 'asked'] }),
    goal('both', { kind: 'steps', goals: ['press', 'asked'] }),
    goal('home', { kind: 'page', document: 'home' }),
  ]
  const apart = (primary: string | null) => goalsApart(goals, primary as never).map(({ id }) => id)
  expect(apart('press')).toEqual(['asked', 'home'])
  expect(apart('both')).toEqual(['home'])
  expect(apart('home')).toEqual(['press', 'asked', 'either', 'both'])
  expect([apart(null), apart('gone')]).toEqual([[], []])
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
