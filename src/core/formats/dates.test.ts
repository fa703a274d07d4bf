import fc from 'fast-check'
import { dayOrderOf, isoOf, type DayOrder } from './dates'

test.each([
  [['2026-03-04', '1772600000', ''], 'none'],
  [['03/04/2026', '5/5/2026'], 'unclear'],
  [['5/5/2026'], 'none'],
  [['03/04/2026', '25/03/2026 10:00'], 'dayFirst'],
  [['03-04-26', '3-25-26'], 'monthFirst'],
  [['25/03/2026', '03/25/2026'], 'both'],
  [['03.04.2026'], 'none'],
] as const)('the dates %j say “%s”', (cells, found) => {
  expect(dayOrderOf(cells)).toBe(found)
})

test.each([
  ['03/04/2026', 'dayFirst', '2026-04-03'],
  ['03/04/2026', 'monthFirst', '2026-03-04'],
  ['3.4.2026', 'monthFirst', '2026-04-03'],
  ['3-4-26', 'dayFirst', '2026-04-03'],
  ['2026/3/4 9:05', 'dayFirst', '2026-03-04 09:05:00'],
  ['03/04/2026, 12:30 AM', 'monthFirst', '2026-03-04 00:30:00'],
  ['03/04/2026 2:05:09 p.m.', 'monthFirst', '2026-03-04 14:05:09'],
  ['03/04/2026 13:05 pm', 'monthFirst', null],
  ['4 Mar 2026', 'monthFirst', '2026-03-04'],
  ['4th March, 2026 at 10:00', 'monthFirst', '2026-03-04 10:00:00'],
  ['Sept. 4, 2026', 'dayFirst', '2026-09-04'],
  ['4 Marchem 2026', 'dayFirst', '2026-00-04'],
  ['03/04-2026', 'dayFirst', null],
  ['03/04/202', 'dayFirst', null],
  ['40/40/2026', 'dayFirst', '2026-40-40'],
  ['yesterday', 'dayFirst', null],
  ['constructor', 'dayFirst', null],
] as const)('“%s” (%s) is %s', (text, order, iso) => {
  expect(isoOf(text, order)).toBe(iso)
})

test('a date comes back as it was written, in either order, and a column of a whole month says which', () => {
  fc.assert(
    fc.property(fc.date({ min: new Date('2001-01-01'), max: new Date('2090-12-31'), noInvalidDate: true }), (at) => {
      const iso = at.toISOString().slice(0, 10)
      const [year = '', month = '', day = ''] = iso.split('-')
      const write = { dayFirst: `${day}/${month}/${year}`, monthFirst: `${month}/${day}/${year}` }
      for (const order of ['dayFirst', 'monthFirst'] satisfies DayOrder[]) expect(isoOf(write[order], order)).toBe(iso)
    }),
  )
  const days = Array.from({ length: 31 }, (_, at) => at + 1)
  expect(dayOrderOf(days.map((day) => `${day}/3/2026`))).toBe('dayFirst')
  expect(dayOrderOf(days.map((day) => `3/${day}/2026`))).toBe('monthFirst')
})
