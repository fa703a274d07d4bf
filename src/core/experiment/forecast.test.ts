import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import { MadeUpTests } from '../simulate'
import { forecast, readThrough, waitingFor, type Traffic, type Waiting } from '.'

const bold = 'bold' as VersionId
const traffic = (visitorsPerDay: number, baseRate: number | null): Traffic => ({ visitorsPerDay, recent: [], baseRate })
const daysIn = (waiting: Waiting) => (waiting.kind === 'days' ? waiting.days : NaN)

describe('a forecast', () => {
  const design = {
    arms: [
      { version: ORIGINAL, weight: 5000, levels: [] },
      { version: bold, weight: 5000, levels: [] },
    ],
    share: 10_000,
    smallestEffect: 0.1,
  }

  test('for one look it is the textbook sample size: 29,498 visitors at 10% for a tenth more', () => {
    const { daysForOneLook, waiting } = forecast(design, traffic(1000, 0.1))
    expect(daysForOneLook).toBe(30)
    // The price of being allowed to look whenever one likes.
    expect(daysIn(waiting) / 30).toBeGreaterThan(1.3)
    expect(daysIn(waiting) / 30).toBeLessThan(2.2)
  })

  test('half the share takes twice as long, and more weeks find smaller gains', () => {
    const whole = forecast(design, traffic(1000, 0.1))
    const half = forecast({ ...design, share: 5000 }, traffic(1000, 0.1))
    expect(Math.abs(daysIn(half.waiting) - 2 * daysIn(whole.waiting))).toBeLessThanOrEqual(5)
    const gains = whole.seen.map(({ gain }) => gain ?? Infinity)
    expect(gains).toEqual([...gains].sort((a, b) => b - a))
  })

  test('without traffic there are no days, and without numbers it says that the rate is assumed', () => {
    expect(forecast(design, traffic(0, null))).toMatchObject({ waiting: { kind: 'unknown' }, measured: false })
  })

  test('plans for no longer than eight weeks, and says where too few come and what would help', () => {
    const small = forecast({ ...design, smallestEffect: 0.05 }, traffic(200, 0.05))
    expect(small.plannedTotal).toBe(200 * 56)
    expect(small.waiting.kind).toBe('tooFew')
    expect(small.helps.map(({ kind }) => kind)).toEqual(['largerDifference', 'nearerGoal', 'moreVisitors'])
    for (const { days } of small.helps) expect(days).toBeLessThanOrEqual(180)
    const [larger] = small.helps
    expect(daysIn(forecast({ ...design, smallestEffect: larger?.value ?? 0 }, traffic(200, 0.05)).waiting)).toBe(larger?.days)
  })

  test('keeps the weekdays: a site that is busy on one day waits for it', () => {
    const busy = [0, 0, 7000, 0, 0, 0, 0]
    // The last full day was the fourth after the busy one: the next busy one is the third from now.
    expect(waitingFor(100, 0, [...busy, ...busy])).toEqual({ kind: 'days', days: 3 })
    expect(waitingFor(7100, 0, [...busy, ...busy])).toEqual({ kind: 'days', days: 10 })
  })

  test('what it says of each week is seen by then as often as it says, looked at daily', () => {
    const made = new MadeUpTests(4)
    const { seen, plannedTotal } = forecast(design, traffic(400, 0.1))
    for (const { weeks, gain } of seen) {
      const kind = { rates: [0.1, 0.1 * (1 + (gain ?? 0))], perDay: 400, days: 7 * weeks, plannedTotal }
      const runs = Array.from({ length: 500 }, () => readThrough(made.looks(kind)))
      const found = runs.filter((results) => results.some(({ variants }) => variants[0]?.reading === 'better')).length / 500
      expect(found).toBeGreaterThan(0.75)
      expect(found).toBeLessThan(0.85)
    }
    expect(seen[0]?.gain).toBeGreaterThan(seen[3]?.gain ?? 0)
    expect(forecast(design, traffic(10, 0.01)).seen.map(({ gain }) => gain)).toEqual([null, null, null, null])
  })
})
