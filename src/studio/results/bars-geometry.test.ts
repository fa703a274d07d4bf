import { barsGeometry, type BarRow } from './bars-geometry'

const row = (id: string, name: string, ...values: readonly (readonly [number, number | null] | null)[]): BarRow => ({
  ...{ id, name },
  bars: values.map((one) => (one === null ? null : { value: one[0], whole: one[1], words: '' })),
})

test('bars of a column are on one scale, each column on its own, and words stand behind what is longest', () => {
  const { rows, columns, width } = barsGeometry([row('a', 'A', [1, null], [0.02, null]), row('b', 'B', [0.5, 0.75], null)], {
    room: 100,
  })
  const [a, b] = rows
  expect(a?.bars[0]?.long).toBeCloseTo((b?.bars[0]?.long ?? 0) * 2, 6)
  expect(b?.bars[0]?.whole).toBeCloseTo((a?.bars[0]?.long ?? 0) * 0.75, 6)
  expect(a?.bars[1]?.long).toBeCloseTo(a?.bars[0]?.long ?? 0, 6)
  expect(b?.bars[1]).toBeNull()
  for (const { bars } of rows)
    bars.forEach((bar, at) => {
      if (bar === null) return
      expect(bar.words).toBeGreaterThanOrEqual(bar.x + Math.max(bar.long, bar.whole))
      // And there is room for them before the next column.
      expect(bar.words + 100).toBeLessThanOrEqual((columns[at + 1] ?? width) + 1e-6)
    })
})

test('what belongs together stands together, with a gap before what has a name of its own', () => {
  const { rows, height } = barsGeometry([row('1', 'One', [1, null]), row('2', '', [1, null]), row('3', 'Two', [1, null])], {
    room: 0,
  })
  const [first = 0, second = 0, third = 0] = rows.map(({ y }) => y)
  expect(third - second).toBeGreaterThan(second - first)
  expect(height).toBeGreaterThan(third)
})

test('where there is nothing, nothing is long, and nothing is divided by it', () => {
  expect(barsGeometry([row('a', 'A', [0, 0])], { room: 10 }).rows[0]?.bars[0]).toMatchObject({ long: 0, whole: 0 })
  expect(barsGeometry([], { room: 10 }).rows).toEqual([])
})

test('names that stand above their bars leave them the whole width, and are above the first bar of theirs', () => {
  const rows = [row('1', 'One', [1, null]), row('2', '', [1, null]), row('3', 'Two', [1, null])]
  const [beside, above] = [barsGeometry(rows, { room: 100 }), barsGeometry(rows, { room: 100, above: true })]
  expect(above.rows[0]?.bars[0]?.long ?? 0).toBeGreaterThan((beside.rows[0]?.bars[0]?.long ?? 0) * 1.2)
  const [first, second, third] = above.rows
  expect(first?.nameY ?? 0).toBeGreaterThan(0)
  expect(first?.nameY ?? 0).toBeLessThan((first?.y ?? 0) - 7)
  expect(third?.nameY ?? 0).toBeGreaterThan((second?.y ?? 0) + 7)
  expect(third?.nameY ?? 0).toBeLessThan((third?.y ?? 0) - 7)
})

test('versions that no row names have a line above the first', () => {
  const { rows } = barsGeometry([row('a', 'A', [1, null])], { room: 10, above: true, named: true })
  const [without] = barsGeometry([row('a', 'A', [1, null])], { room: 10, above: true }).rows
  expect(rows[0]?.nameY).toBeGreaterThan((without?.nameY ?? 0) + 14)
})
