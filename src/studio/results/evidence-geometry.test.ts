import fc from 'fast-check'
import { evidenceGeometry, evidenceLine, type EvidencePoint, type EvidenceSeries } from './evidence-geometry'

const day = (index: number) => new Date(Date.UTC(2026, 2, 2 + index)).toISOString().slice(0, 10)
const point = (index: number, lower: number, upper: number, cleared = false): EvidencePoint => ({
  ...{ day: day(index), lift: (lower + upper) / 2, lower, upper, cleared },
})
/** Narrowing about a tenth more; clear from the day on that is said. */
const series = (version: string, clear = Infinity): EvidenceSeries => ({
  version,
  points: Array.from({ length: 20 }, (_, index) => point(index, 0.1 - 2 / (index + 1), 0.1 + 2 / (index + 1), index >= clear)),
})
const numbersIn = (path: string) => (path.match(/-?\d+(\.\d+)?/g) ?? []).map(Number)

test('nothing is drawn before the second day', () => {
  expect(evidenceGeometry([], 0.05)).toBeNull()
  expect(evidenceGeometry([{ version: 'a', points: [] }], 0.05)).toBeNull()
  expect(evidenceGeometry([{ version: 'a', points: [point(0, -1, 1)] }], 0.05)).toBeNull()
  expect(evidenceGeometry([{ version: 'a', points: [point(0, -1, 1), point(1, -1, 1)] }], 0.05)?.panels).toHaveLength(1)
})

test('two stand in one picture; of more each has its own, with the same scales', () => {
  expect(evidenceGeometry([series('a'), series('b')], 0.05)?.panels.map(({ lines }) => lines.length)).toEqual([2])
  const panels =
    evidenceGeometry(
      ['a', 'b', 'c', 'd', 'e'].map((name) => series(name)),
      0.05,
    )?.panels ?? []
  expect(panels.map(({ lines }) => lines.map(({ version }) => version))).toEqual([['a'], ['b'], ['c'], ['d'], ['e']])
  for (const { zero, band, levels } of panels)
    expect({ zero, band, levels }).toEqual({
      ...(panels[0] && { zero: panels[0].zero, band: panels[0].band, levels: panels[0].levels }),
    })
})

test('the line stands in the middle of what is no difference worth having, and more is above it', () => {
  const [panel] = evidenceGeometry([series('a')], 0.2)?.panels ?? []
  if (panel === undefined) throw new Error('a panel was expected')
  expect(panel.band.y + panel.band.height / 2).toBeCloseTo(panel.zero, 6)
  const heights = panel.levels.filter(({ value }) => value > 0).map(({ y }) => y)
  expect(heights.length).toBeGreaterThan(0)
  expect(heights.every((y) => y < panel.zero)).toBe(true)
  expect(panel.days.map(({ x }) => x)).toEqual(panel.days.map(({ x }) => x).toSorted((one, other) => one - other))
})

test('it says where the interval first left the line, and puts the words where there is room', () => {
  const cleared = (clear: number) => evidenceGeometry([series('a', clear)], 0.05)?.panels[0]?.lines[0]?.cleared
  expect(cleared(Infinity)).toBeNull()
  expect(cleared(3)).toMatchObject({ day: day(3), side: 'start' })
  expect(cleared(19)).toMatchObject({ day: day(19), side: 'end' })
})

test('wide intervals of the first days make neither the scale nor anything beyond the picture', () => {
  const calm = evidenceGeometry([series('a')], 0.05)?.panels[0]
  const points = [point(0, -80, 900), ...series('a').points.slice(1)]
  expect(evidenceGeometry([{ version: 'a', points }], 0.05)?.panels[0]?.levels).toEqual(calm?.levels)
  const limit = fc.double({ min: -1, max: 1e6, noNaN: true })
  fc.assert(
    fc.property(fc.array(fc.tuple(limit, limit), { minLength: 2, maxLength: 30 }), (limits) => {
      const drawn = limits.map(([one, other], index) => point(index, Math.min(one, other), Math.max(one, other)))
      const found = evidenceGeometry([{ version: 'a', points: drawn }], 0.05)
      const [panel] = found?.panels ?? []
      for (const number of numbersIn(`${panel?.lines[0]?.ribbon ?? ''}${panel?.lines[0]?.middle ?? ''}`)) {
        expect(number).toBeGreaterThanOrEqual(0)
        expect(number).toBeLessThanOrEqual(Math.max(found?.width ?? 0, found?.height ?? 0))
      }
      const { ribbon, zero } = evidenceLine(drawn, [120, 30])
      for (const number of [...numbersIn(ribbon), zero]) {
        expect(number).toBeGreaterThanOrEqual(0)
        expect(number).toBeLessThanOrEqual(120)
      }
    }),
  )
})

test('in the space of a word it narrows to the right as well', () => {
  const { ribbon, zero } = evidenceLine(series('a').points, [120, 30])
  expect(zero).toBeCloseTo(15, 6)
  expect(numbersIn(ribbon).length).toBe(80)
})
