import fc from 'fast-check'
import { adjusted, cochranQ } from '.'

test('estimates that agree do not differ, and two a distance apart differ as their distance does', () => {
  expect(cochranQ([{ effect: 0.2, standardError: 0.1 }])).toBeNull()
  const agree = [0.1, 0.2, 0.4].map((standardError) => ({ effect: 0.3, standardError }))
  expect(cochranQ(agree)).toMatchObject({ df: 2 })
  expect(cochranQ(agree)?.pValue).toBeCloseTo(1, 12)
  // Two of the same weight: the square of their distance over twice the square of the error; 2 on one degree is 0.1573.
  const apart = cochranQ([
    { effect: 0.1, standardError: 0.1 },
    { effect: 0.3, standardError: 0.1 },
  ])
  expect(apart?.q).toBeCloseTo(2, 12)
  expect(apart?.pValue).toBeCloseTo(0.15729920705, 10)
})

test('whatever is added to every effect changes nothing', () => {
  const estimate = fc.record({
    effect: fc.double({ min: -2, max: 2, noNaN: true }),
    standardError: fc.double({ min: 0.01, max: 2, noNaN: true }),
  })
  fc.assert(
    fc.property(fc.array(estimate, { minLength: 2, maxLength: 6 }), fc.double({ min: -1, max: 1, noNaN: true }), (all, shift) => {
      const moved = all.map((one) => ({ ...one, effect: one.effect + shift }))
      expect(cochranQ(moved)?.q ?? -1).toBeCloseTo(cochranQ(all)?.q ?? -2, 4)
    }),
  )
})

test('p-values of several questions are raised as Benjamini and Hochberg do', () => {
  const raised = adjusted([0.01, 0.04, 0.03, 0.005])
  expect(raised.map((p) => Math.round(p * 1e6) / 1e6)).toEqual([0.02, 0.04, 0.04, 0.02])
  expect(adjusted([0.9])).toEqual([0.9])
  expect(adjusted([])).toEqual([])
})
