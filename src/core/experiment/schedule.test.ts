import { ORIGINAL } from '../decide'
import type { GoalId, VersionId } from '../ids'
import { calendarOf } from '../time'
import {
  adaptedWeights,
  decidesItself,
  dueByClock,
  read,
  scheduleSchema,
  statuses,
  stopsBy,
  type ArmCounts,
  type Evidence,
} from '.'

const bold = 'bold' as VersionId
const calm = 'calm' as VersionId
const arm = (version: VersionId, exposed: number, converters: number, weight = 5000): ArmCounts => ({
  ...{ version, weight, exposed, converters },
  assigned: exposed,
})
const evidence = (...epochs: ArmCounts[][]): Evidence => ({ epochs, days: 14, smallestEffect: 0.05, plannedTotal: 20_000 })
const result = (...arms: ArmCounts[]) => read(evidence(arms))

describe('the clock of the site', () => {
  const { read: clock } = calendarOf('Europe/Berlin')
  const at = (text: string) => clock(text)?.at ?? null
  const schedule = scheduleSchema.parse({ start: '2026-03-29T02:30', end: '2026-10-25T02:30' })
  const due = (status: (typeof statuses)[number], now: string) => dueByClock(status, schedule, new Date(now), at)

  test('starts what waits and ends what runs, at that hour and ever after, and nothing else', () => {
    // Clocks go forward at 2:00 on the day of the start, so that 2:30 is 3:30; they go back on that of the end.
    expect(due('scheduled', '2026-03-29T01:29:59Z')).toBeNull()
    expect(due('scheduled', '2026-03-29T01:30:00Z')).toEqual({ what: 'start', since: new Date('2026-03-29T01:30:00Z') })
    expect(due('scheduled', '2026-04-09T00:00:00Z')?.since).toEqual(new Date('2026-03-29T01:30:00Z'))
    expect(due('running', '2026-10-25T00:29:59Z')).toBeNull()
    expect(due('running', '2026-10-25T00:30:00Z')?.what).toBe('end')
    expect(due('paused', '2026-10-26T00:00:00Z')?.what).toBe('end')
    expect(statuses.filter((status) => due(status, '2027-01-01T00:00:00Z') !== null)).toEqual(['scheduled', 'running', 'paused'])
  })

  test('does nothing of what is left to people', () => {
    const byHand = scheduleSchema.parse({})
    for (const status of statuses) expect(dueByClock(status, byHand, new Date('2030-01-01'), at)).toBeNull()
  })
})

describe('a stop rule', () => {
  const better = result(arm(ORIGINAL, 10_000, 1000), arm(bold, 10_000, 1200))
  const unclear = result(arm(ORIGINAL, 1000, 100), arm(bold, 1000, 104))
  const rule = (until: 'enough' | 'settled' | 'smallLoss', days = 14, visitors = 1000) => ({ days, visitors, until })
  const of = (found: typeof better, days = 14) => ({
    result: found,
    history: Array.from({ length: days }, () => ({ day: '', result: found })),
  })

  test.each([
    ['enough days and visitors', rule('enough'), unclear, 14, true],
    ['too few days', rule('enough', 15), unclear, 14, false],
    ['too few visitors of a version', rule('enough', 14, 1001), unclear, 14, false],
    ['a result that is not settled', rule('settled'), unclear, 14, false],
    ['one that is', rule('settled'), better, 14, true],
    ['hardly anything to lose by the best', rule('smallLoss'), better, 14, true],
    ['much to lose', rule('smallLoss'), unclear, 14, false],
  ] as const)('with %s', (_, one, found, days, stops) => {
    expect(stopsBy(one, of(found, days), days) !== null).toBe(stops)
  })
})

describe('what a test decides itself', () => {
  const guard = (reading: 'broken' | 'holds') => [
    {
      of: 'g' as GoalId,
      name: 'Goal',
      margin: 0.05,
      variants: [{ version: bold, reading, lift: null, liftInterval: null }],
    },
  ]
  const better = result(arm(ORIGINAL, 10_000, 1000), arm(bold, 10_000, 1200))

  test('is the better variant, else the original', () => {
    expect(decidesItself({ result: better, guards: guard('holds') })?.version).toBe(bold)
    expect(decidesItself({ result: result(arm(ORIGINAL, 1000, 100), arm(bold, 1000, 90)), guards: [] })).toMatchObject({
      version: null,
    })
  })

  test('is nothing where nobody saw it', () => {
    expect(decidesItself({ result: result(arm(ORIGINAL, 0, 0), arm(bold, 0, 0)), guards: [] })).toBeNull()
  })

  test('is nothing against a guard, and nothing by counts that are not to be trusted', () => {
    expect(decidesItself({ result: better, guards: guard('broken') })).toBeNull()
    expect(decidesItself({ result: result(arm(ORIGINAL, 10_000, 1000), arm(bold, 8000, 1200)), guards: [] })).toBeNull()
  })
})

describe('a split that follows what visitors do', () => {
  const adaptive = { floor: 1000, every: 1440 } as const
  const design = {
    arms: [ORIGINAL, bold, calm].map((version, index) => ({ version, weight: index === 0 ? 3334 : 3333, levels: [] })),
  }

  test('gives most to the likely best, the floor to the others, and adds up', () => {
    const weights = adaptedWeights(
      design,
      adaptive,
      evidence([arm(ORIGINAL, 2000, 100), arm(bold, 2000, 200), arm(calm, 2000, 90)]),
    )
    expect(weights).toEqual([1000, 8000, 1000])
  })

  test('waits until something is known, and stays where hardly anything would change', () => {
    expect(adaptedWeights(design, adaptive, evidence([arm(ORIGINAL, 20, 2), arm(bold, 20, 1), arm(calm, 20, 1)]))).toBeNull()
    const alike = evidence([arm(ORIGINAL, 4000, 400), arm(bold, 4000, 400), arm(calm, 4000, 400)])
    expect(adaptedWeights(design, adaptive, alike)).toBeNull()
  })

  test('is not led by a version that was shown most when everybody bought', () => {
    const slow = [arm(ORIGINAL, 5000, 250, 5000), arm(bold, 5000, 250, 5000)]
    const fast = [arm(ORIGINAL, 1000, 100, 1000), arm(bold, 9000, 900, 9000)]
    const two = { arms: design.arms.slice(0, 2) }
    const weights = adaptedWeights(two, adaptive, evidence(slow, fast)) ?? []
    expect(weights.every((weight) => weight > 4000 && weight < 6000)).toBe(true)
  })
})
