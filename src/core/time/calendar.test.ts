import fc from 'fast-check'
import { calendarOf, isTimeZone } from '.'

// East and west of Greenwich, with and without half an hour, with clocks that change and without.
const zones = ['Europe/Berlin', 'America/Los_Angeles', 'Asia/Kolkata', 'Pacific/Chatham', 'America/St_Johns', 'UTC']

describe.each(zones)('the calendar of %s', (zone) => {
  const calendar = calendarOf(zone)
  const moment = fc.date({ min: new Date('2020-01-01'), max: new Date('2035-01-01'), noInvalidDate: true })

  test('has every moment in its day, from when it begins until the next does', () => {
    fc.assert(
      fc.property(moment, (at) => {
        const day = calendar.dayOf(at)
        expect(calendar.beginOf(day).getTime()).toBeLessThanOrEqual(at.getTime())
        expect(calendar.endOf(day).getTime()).toBeGreaterThan(at.getTime())
        expect(calendar.dayOf(calendar.beginOf(day))).toBe(day)
        expect(calendar.dayOf(new Date(calendar.beginOf(day).getTime() - 1))).not.toBe(day)
      }),
    )
  })

  test('has 28 last days, none twice, over every change of clocks', () => {
    fc.assert(
      fc.property(moment, (now) => {
        const days = calendar.lastDays(28, now)
        expect([new Set(days).size, days.at(-1)]).toEqual([28, calendar.dayOf(now)])
        for (const [index, day] of days.slice(0, -1).entries())
          expect(calendar.endOf(day)).toEqual(calendar.beginOf(days[index + 1] ?? ''))
      }),
      { numRuns: 30 },
    )
  })
})

describe('a moment as it is written', () => {
  const berlin = calendarOf('Europe/Berlin')
  test.each([
    ['2026-03-02 10:00', '2026-03-02T09:00:00.000Z'],
    ['2026-07-02T10:00:30', '2026-07-02T08:00:30.000Z'],
    ['2026-03-02T10:00:00Z', '2026-03-02T10:00:00.000Z'],
    ['2026-03-02 10:00 +0530', '2026-03-02T04:30:00.000Z'],
    ['2026-03-02', '2026-03-02T11:00:00.000Z'],
    // The clocks go from two to three, and back from three to two.
    ['2026-03-29 02:30', '2026-03-29T01:30:00.000Z'],
    ['2026-10-25 02:30', '2026-10-25T00:30:00.000Z'],
    ['2026-02-30', null],
    ['2026-02-30 10:00', null],
    ['2026-03-02 25:00', null],
    ['02.03.2026', null],
    ['2026-03-02 soon', null],
  ])('“%s” is %s by the clock of Berlin', (text, expected) => {
    expect(berlin.read(text)?.at.toISOString() ?? null).toBe(expected)
  })

  test('is a day alone only where it says no time', () => {
    expect([berlin.read('2026-03-02')?.isDay, berlin.read('2026-03-02 12:00')?.isDay]).toEqual([true, false])
  })
})

test('a zone is one of the known ones', () => {
  expect(['Europe/Berlin', 'UTC', 'Mars/Olympus', '', 'constructor'].map(isTimeZone)).toEqual([true, true, false, false, false])
})
