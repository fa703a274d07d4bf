import fc from 'fast-check'
import { intervalGeometry, type IntervalRow } from './interval-geometry'

const row = (
  interval: readonly [number, number] | null,
  point: number | null = null,
  measured: number | null = null,
): IntervalRow => ({
  ...{ id: 'a', name: 'A', under: '', interval, point, measured },
})

test('the original stands in the middle, what is more to the right of it, and each row below the one before', () => {
  const { zero, rows, height, ticks } = intervalGeometry([row([0.1, 0.3], 0.2), row([-0.2, 0.1], -0.05), row(null)])
  expect(rows.map(({ isStrong }) => isStrong)).toEqual([true, false, false])
  expect(rows[0]?.line?.[0]).toBeGreaterThan(zero)
  expect(rows[1]?.point).toBeLessThan(zero)
  expect(rows[2]).toMatchObject({ line: null, point: null, measured: null })
  const down = rows.map(({ y }) => y)
  expect(down).toEqual([...down].sort((one, other) => one - other))
  expect(Math.max(...down)).toBeLessThan(height)
  expect(ticks.some(({ value, x }) => value === 0 && x === zero)).toBe(true)
})

test('a loss as a whole is clear as well; what touches nothing is not', () => {
  expect(intervalGeometry([row([-0.3, -0.1]), row([0, 0.2]), row([-0.2, 0])]).rows.map(({ isStrong }) => isStrong)).toEqual([
    true,
    false,
    false,
  ])
})

test('whatever is drawn lies within the picture, and nothing is endless', () => {
  const some = fc.double({ min: -1, max: 50, noNaN: true })
  fc.assert(
    fc.property(fc.array(fc.tuple(some, some, some), { maxLength: 8 }), fc.tuple(some, some), (three, [from, to]) => {
      const rows = three.map(([a, b, point]) => row([Math.min(a, b), Math.max(a, b)], point, a))
      const found = intervalGeometry(rows, { band: [Math.min(from, to), Math.max(from, to)] })
      const xs = [
        found.band?.x ?? 0,
        ...found.rows.flatMap(({ line, point, measured }) => [...(line ?? []), point ?? 0, measured ?? 0]),
      ]
      for (const x of xs) {
        expect(x).toBeGreaterThanOrEqual(0)
        expect(x).toBeLessThanOrEqual(found.width)
      }
      expect(found.band?.width).toBeGreaterThan(0)
    }),
  )
})

test('what is near each other stands in groups with a gap between them, and is drawn as strongly as it is said to be', () => {
  const rows = Array.from({ length: 4 }, () => ({ ...row([0.1, 0.2]), isStrong: false }))
  const { rows: placed, height } = intervalGeometry(rows, { together: 2 })
  const [first = 0, second = 0, third = 0, fourth = 0] = placed.map(({ y }) => y)
  expect(second - first).toBe(fourth - third)
  expect(third - second).toBeGreaterThan(second - first)
  expect(height).toBeGreaterThan(fourth)
  expect(placed.some(({ isStrong }) => isStrong)).toBe(false)
})

test('so much is seen at the least, to either side of the original', () => {
  const at = (least?: number) => intervalGeometry([row([0.01, 0.02])], { least }).rows[0]?.line?.[1] ?? 0
  const { zero, width } = intervalGeometry([])
  expect(at(0.3) - zero).toBeLessThan((width - zero) / 10)
  expect(at() - zero).toBeGreaterThan((width - zero) * 0.8)
})
