import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import { alarmsOf, type CountedDay, type TrustFacts } from './trust'

const bold = 'bold' as VersionId
const names = { version: () => 'Bold', goal: () => '' } as unknown as Parameters<typeof alarmsOf>[1]
const day = (at: number, assigned = 200, exposed = 180): CountedDay => ({
  ...{ day: `2026-03-${String(at).padStart(2, '0')}`, assigned, exposed },
})
const week = Array.from({ length: 7 }, (_, at) => day(at + 1))
const facts: TrustFacts = {
  arms: [
    { version: ORIGINAL, assigned: 5000, exposed: 4500 },
    { version: bold, assigned: 5000, exposed: 4500 },
  ],
  split: { assigned: 1, exposed: 1, trusted: true },
  days: week,
  slower: [],
  byDevice: [],
}
const alarms = (other: Partial<TrustFacts>) => alarmsOf({ ...facts, ...other }, names)
const lessSeen = {
  split: { assigned: 0.4, exposed: 1e-9, trusted: false },
  arms: [
    { version: ORIGINAL, assigned: 5000, exposed: 4500 },
    { version: bold, assigned: 5000, exposed: 3900 },
  ],
}

test('as long as all is as planned there is nothing to look at', () => expect(alarms({})).toEqual([]))

describe('a split that is not as planned', () => {
  test('where versions were not given so, points at what comes before the page', () => {
    const [alarm, ...more] = alarms({ split: { assigned: 1e-6, exposed: 1e-6, trusted: false } })
    expect([alarm?.kind, more]).toEqual(['split', []])
    expect(alarm?.look[0]).toContain('redirect')
  })

  test('where they were given so and are not seen alike, names the one that is seen least', () => {
    const [alarm] = alarms(lessSeen)
    expect(alarm).toMatchObject({
      kind: 'exposure',
      words: expect.stringContaining('78% of those who were given ‘Bold’ saw it, and 90%'),
    })
    expect(alarm?.look).toHaveLength(2)
  })

  test('says first that a version is slow where it is, and on which device it is most off', () => {
    const byDevice = [
      ...[
        { device: 'phone', version: ORIGINAL, exposed: 2700 },
        { device: 'phone', version: bold, exposed: 2100 },
      ],
      ...[
        { device: 'computer', version: ORIGINAL, exposed: 1800 },
        { device: 'computer', version: bold, exposed: 1800 },
      ],
    ]
    const [alarm] = alarms({ ...lessSeen, slower: [bold], byDevice })
    expect(alarm?.look.slice(0, 2)).toEqual([expect.stringContaining('is slower'), expect.stringContaining('on a phone')])
    const alike = byDevice.map((one) => (one.version === bold ? { ...one, exposed: one.device === 'phone' ? 2340 : 1560 } : one))
    expect(alarms({ ...lessSeen, byDevice: alike })[0]?.look.join()).not.toContain('on a phone')
  })
})

describe('an outage', () => {
  test('of a whole day is named, and of more than three the first', () => {
    const [alarm] = alarms({ days: [...week, day(8, 3, 3), day(9)] })
    expect(alarm).toMatchObject({
      kind: 'silence',
      words: expect.stringMatching(/^On 2026-03-08 next to nothing.*about 200 visitors/),
    })
    const many = [10, 11, 12, 13].map((at) => day(at, 0, 0))
    expect(alarms({ days: [...week, ...many] })[0]?.words).toContain('2026-03-10, 2026-03-11, 2026-03-12 and 1 more day')
  })

  test('of the reports alone is told from few visitors', () => {
    expect(alarms({ days: [...week, day(8, 200, 40)] })).toMatchObject([
      { kind: 'lost', words: expect.stringContaining('(20%, usually 90%)') },
    ])
    // A quiet Sunday is none, nor is a day a little below the others.
    expect(alarms({ days: [...week, day(8, 60, 52), day(9, 200, 150)] })).toEqual([])
  })

  test('is not seen in few days, or on few visitors', () => {
    expect(alarms({ days: [day(1), day(2, 0, 0), day(3)] })).toEqual([])
    expect(alarms({ days: week.map((one) => ({ ...one, assigned: 9, exposed: 0 })) })).toEqual([])
  })
})
