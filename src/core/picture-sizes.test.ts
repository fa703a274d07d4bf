import fc from 'fast-check'
import { WIDEST, widthFor, widthsOf } from './picture-sizes'

test('a picture is made in no width larger than it is, and in its own', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 20_000 }), (width) => {
      const widths = widthsOf(width)
      expect(widths).toEqual([...new Set(widths)].sort((a, b) => a - b))
      expect(widths.at(-1)).toBe(Math.min(width, WIDEST))
    }),
  )
  expect(widthsOf(1000)).toEqual([320, 640, 960, 1000])
  expect(widthsOf(6000)).toEqual([320, 640, 960, 1280, 1920])
})

test('what fills the place is sent, in any order of the widths', () => {
  expect(widthFor([960, 320, 640], 500)).toBe(640)
  expect(widthFor([320, 640], 641)).toBe(640)
  expect(widthFor([320, 640], null)).toBe(640)
  expect(widthFor([], 320)).toBeNull()
})
