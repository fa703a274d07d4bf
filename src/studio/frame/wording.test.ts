import { dayWords, momentWords, tellClock } from './wording'

afterEach(() => tellClock('UTC'))

test('a moment is said by the site’s clock, and a day alone by none', () => {
  tellClock('Pacific/Auckland')
  expect([momentWords('2026-03-02T23:30:00Z'), dayWords('2026-03-02T23:30:00Z'), dayWords('2026-03-02')]).toEqual([
    '3 Mar, 12:30',
    '3 Mar 2026',
    '2 Mar 2026',
  ])
  tellClock('America/Los_Angeles')
  expect([dayWords('2026-03-02T03:00:00Z'), dayWords('2026-03-02')]).toEqual(['1 Mar 2026', '2 Mar 2026'])
})

test('a browser that does not know the zone shows UTC, and its screen all the same', () => {
  tellClock('Mars/Olympus')
  expect(momentWords('2026-03-02T23:30:00Z')).toBe('2 Mar, 23:30')
})
