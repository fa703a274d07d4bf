import { panelsFor } from './panels'

test.each([1, 2, 3, 5, 8, 9, 35])('%d pictures stand within the whole, and none on another', (many) => {
  const { width, height, boxes } = panelsFor(many)
  expect(boxes).toHaveLength(many)
  for (const [at, one] of boxes.entries()) {
    expect(one.left >= 0 && one.top >= 0 && one.left + one.width <= width + 1e-9 && one.top + one.height <= height + 1e-9).toBe(
      true,
    )
    for (const other of boxes.slice(at + 1)) {
      const isApart =
        one.left + one.width <= other.left ||
        other.left + other.width <= one.left ||
        one.top + one.height <= other.top ||
        other.top + other.height <= one.top
      expect(isApart).toBe(true)
    }
  }
  expect(new Set(boxes.map((box) => `${box.width} ${box.height}`)).size).toBe(1)
})
