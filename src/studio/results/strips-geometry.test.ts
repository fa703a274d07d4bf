import { stripsGeometry } from './strips-geometry'

const counted = [
  {
    day: '2026-03-02',
    counts: new Map([
      ['a', 10],
      ['b', 5],
    ]),
  },
  { day: '2026-03-03', counts: new Map([['a', 0]]) },
]

test('each version has its strip, each day its place, and the same height means the same everywhere', () => {
  const { strips, bar, left, width, height } = stripsGeometry(['a', 'b'], counted)
  const [a, b] = strips
  expect(a?.bars.map(({ day }) => day)).toEqual(['2026-03-02', '2026-03-03'])
  expect(a?.bars.map(({ x }) => x)).toEqual(b?.bars.map(({ x }) => x))
  expect((a?.bars[0]?.tall ?? 0) / (b?.bars[0]?.tall ?? 1)).toBeCloseTo(2, 6)
  expect([a?.bars[1]?.tall, b?.bars[1]?.tall]).toEqual([0, 0])
  expect(b?.y ?? 0).toBeGreaterThan(a?.y ?? 0)
  for (const { x } of a?.bars ?? []) {
    expect(x).toBeGreaterThanOrEqual(left)
    expect(x + bar).toBeLessThanOrEqual(width)
  }
  // A bar never reaches into the strip above.
  expect(a?.bars[0]?.tall).toBeLessThan((b?.y ?? 0) - (a?.y ?? 0))
  expect(b?.y).toBeLessThan(height)
})

test('where nothing was counted nothing stands, and nothing is divided by it', () => {
  const { strips } = stripsGeometry(['a'], [{ day: '2026-03-02', counts: new Map() }])
  expect(strips[0]?.bars.map(({ tall }) => tall)).toEqual([0])
  expect(stripsGeometry([], []).strips).toEqual([])
})
