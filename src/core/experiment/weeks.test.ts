import { mondayOf, mostAtOnce, placeIn, weeksFrom, type Run } from '.'

const day = (text: string) => new Date(`${text}T00:00:00Z`)
const run = (from: string, to: string | null): Run => ({ from: day(from), to: to === null ? null : day(to), isPlanned: false })
const window = { from: day('2026-11-02'), to: day('2026-11-12') }

test('weeks begin on Mondays, over the end of a year as well', () => {
  expect([mondayOf('2026-11-26'), mondayOf('2026-11-23'), mondayOf('2027-01-01')]).toEqual([
    '2026-11-23',
    '2026-11-23',
    '2026-12-28',
  ])
  expect(weeksFrom('2026-12-21', 3)).toEqual(['2026-12-21', '2026-12-28', '2027-01-04'])
})

test.each([
  ['inside', run('2026-11-03', '2026-11-07'), { left: 0.1, right: 0.5, began: false, goesOn: false }],
  ['from before on', run('2026-10-01', '2026-11-07'), { left: 0, right: 0.5, began: true, goesOn: false }],
  ['without an end', run('2026-11-03', null), { left: 0.1, right: 1, began: false, goesOn: true }],
  ['before', run('2026-10-01', '2026-11-02'), null],
  ['after', run('2026-11-12', null), null],
])('a run %s is placed in its window', (_, of, place) => {
  expect(placeIn(window, of)).toEqual(place)
})

test('of runs that follow each other no two are at once; of those that overlap as many as do', () => {
  expect(mostAtOnce(window, [run('2026-11-02', '2026-11-05'), run('2026-11-05', '2026-11-09')])).toBe(1)
  expect(mostAtOnce(window, [run('2026-10-01', null), run('2026-11-05', '2026-11-09'), run('2026-11-08', null)])).toBe(3)
  expect(mostAtOnce(window, [run('2026-12-01', null)])).toBe(0)
})
