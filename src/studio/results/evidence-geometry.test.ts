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
/** A single round. */
const drawn = (...series: EvidenceSeries[]) => evidenceGeometry([{ number: 1, series }], 0.05)
const numbersIn = (path: string) => (path.match(/-?\d+(\.\d+)?/g) ?? []).map(Number)

test('nothing is drawn before the second day', () => {
  expect(evidenceGeometry([], 0.05)).toBeNull()
  expect(drawn({ version: 'a', points: [] })).toBeNull()
  expect(drawn({ version: 'a', points: [point(0, -1, 1)] })).toBeNull()
  expect(drawn({ version: 'a', points: [point(0, -1, 1), point(1, -1, 1)] })).toMatchObject({ isDrawn: true, panels: [{}] })
})

test('two stand in one picture; of more each has its own, with the same scales', () => {
  expect(drawn(series('a'), series('b'))?.panels.map(({ lines }) => lines.length)).toEqual([2])
  const panels = drawn(...['a', 'b', 'c', 'd', 'e'].map((name) => series(name)))?.panels ?? []
  expect(panels.map(({ lines }) => lines.map(({ version }) => version))).toEqual([['a'], ['b'], ['c'], ['d'], ['e']])
  for (const { zero, band, levels } of panels)
    expect({ zero, band, levels }).toEqual({
      ...(panels[0] && { zero: panels[0].zero, band: panels[0].band, levels: panels[0].levels }),
    })
})

test('the line stands in the middle of what is no difference worth having, and more is above it', () => {
  const [panel] = evidenceGeometry([{ number: 1, series: [series('a')] }], 0.2)?.panels ?? []
  if (panel === undefined) throw new Error('a panel was expected')
  expect(panel.band.y + panel.band.height / 2).toBeCloseTo(panel.zero, 6)
  const heights = panel.levels.filter(({ value }) => value > 0).map(({ y }) => y)
  expect(heights.length).toBeGreaterThan(0)
  expect(heights.every((y) => y < panel.zero)).toBe(true)
  expect(panel.days.map(({ x }) => x)).toEqual(panel.days.map(({ x }) => x).toSorted((one, other) => one - other))
})

test('it says where the interval first left the line, and puts the words where there is room', () => {
  const cleared = (clear: number) => drawn(series('a', clear))?.panels[0]?.lines[0]?.cleared
  expect(cleared(Infinity)).toBeNull()
  expect(cleared(3)).toMatchObject({ day: day(3), side: 'start' })
  expect(cleared(19)).toMatchObject({ day: day(19), side: 'end' })
})

test('wide intervals of the first days make neither the scale nor anything beyond the picture', () => {
  const calm = drawn(series('a'))?.panels[0]
  const points = [point(0, -80, 900), ...series('a').points.slice(1)]
  expect(drawn({ version: 'a', points })?.panels[0]?.levels).toEqual(calm?.levels)
  const limit = fc.double({ min: -1, max: 1e6, noNaN: true })
  fc.assert(
    fc.property(fc.array(fc.tuple(limit, limit), { minLength: 2, maxLength: 30 }), (limits) => {
      const all = limits.map(([one, other], index) => point(index, Math.min(one, other), Math.max(one, other)))
      const found = drawn({ version: 'a', points: all })
      const [panel] = found?.panels ?? []
      for (const number of numbersIn(`${panel?.lines[0]?.ribbon ?? ''}${panel?.lines[0]?.middle ?? ''}`)) {
        expect(number).toBeGreaterThanOrEqual(0)
        expect(number).toBeLessThanOrEqual(Math.max(found?.width ?? 0, found?.height ?? 0))
      }
      const { ribbon, zero } = evidenceLine(all, [120, 30])
      for (const number of [...numbersIn(ribbon), zero]) {
        expect(number).toBeGreaterThanOrEqual(0)
        expect(number).toBeLessThanOrEqual(120)
      }
    }),
  )
})

describe('rounds', () => {
  const before = { number: 1, series: [series('a', 5), series('gone')] }
  const later = { version: 'a', points: Array.from({ length: 12 }, (_, index) => point(400 + index, -0.2, 0.3, index >= 8)) }
  const picture = evidenceGeometry([before, { number: 2, series: [later] }], 0.05)
  const [panel] = picture?.panels ?? []
  const [line] = panel?.lines ?? []

  test('stand beside each other with a gap between, in which a year is no wider than a day', () => {
    expect(panel?.breaks.map(({ round }) => round)).toEqual([1, 2])
    const [first, second] = panel?.breaks ?? []
    expect(first).toMatchObject({ x: panel?.left, gap: null })
    expect(second?.gap).toBeLessThan(second?.x ?? 0)
    // Nineteen days to eleven.
    const [wide, rest] = [(second?.x ?? 0) - 22 - (panel?.left ?? 0), (panel?.right ?? 0) - (second?.x ?? 0)]
    expect(wide / rest).toBeCloseTo(19 / 11, 6)
  })

  test('no line goes through the gap, and only versions of the round that is read are drawn', () => {
    expect(panel?.lines.map(({ version }) => version)).toEqual(['a'])
    const stretches = (line?.middle ?? '').split('M').filter(Boolean)
    expect(stretches).toHaveLength(2)
    const [one, other] = stretches.map((stretch) => numbersIn(stretch).filter((_, at) => at % 2 === 0))
    expect(Math.max(...(one ?? []))).toBeLessThan(panel?.breaks[1]?.gap ?? 0)
    expect(Math.min(...(other ?? []))).toBeGreaterThan(panel?.breaks[1]?.gap ?? Infinity)
    expect(line?.cleared?.day).toBe(day(408))
  })

  test('what was clear in a round that is over is not said of the one that is read', () => {
    const young = { number: 2, series: [{ version: 'a', points: [point(400, -1, 1)] }] }
    const found = evidenceGeometry([before, young], 0.05)
    expect(found).toMatchObject({ isDrawn: false, panels: [{ breaks: [], lines: [{ version: 'a', cleared: null }] }] })
  })

  test('days are said with room between, and a short round beside a long one can still be seen', () => {
    const short = { version: 'a', points: [point(400, -1, 1), point(401, -1, 1)] }
    const long = { version: 'a', points: Array.from({ length: 300 }, (_, index) => point(index, -1, 1)) }
    const found = evidenceGeometry(
      [
        { number: 1, series: [long] },
        { number: 2, series: [short] },
      ],
      0.05,
    )?.panels[0]
    expect((found?.right ?? 0) - (found?.breaks[1]?.x ?? 0)).toBeGreaterThan(40)
    const places = (found?.days ?? []).map(({ x }) => x)
    for (const [at, x] of places.slice(1).entries()) expect(x - (places[at] ?? 0)).toBeGreaterThanOrEqual(52)
  })
})

test('in the space of a word it narrows to the right as well', () => {
  const { ribbon, zero } = evidenceLine(series('a').points, [120, 30])
  expect(zero).toBeCloseTo(15, 6)
  expect(numbersIn(ribbon).length).toBe(80)
})
