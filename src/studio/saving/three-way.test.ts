import fc from 'fast-check'
import { threeWay } from './three-way'

const before = { name: 'Heading', share: 10_000, arms: [1, 2] }

test('different fields of one thing meet; one field that both changed does not', () => {
  expect(threeWay(before, { ...before, name: 'Mine' }, { ...before, share: 5000 })).toEqual({
    ...before,
    name: 'Mine',
    share: 5000,
  })
  expect(threeWay(before, { ...before, name: 'Mine' }, { ...before, name: 'Theirs' })).toBeNull()
  expect(threeWay(before, { ...before, arms: [1] }, { ...before, arms: [1] })).toEqual({ ...before, arms: [1] })
})

test('whoever changed nothing gets what the other has', () => {
  const values = fc.record({ a: fc.nat(3), b: fc.nat(3), c: fc.array(fc.nat(2)) })
  fc.assert(
    fc.property(values, values, (was, other) => {
      expect(threeWay(was, was, other)).toEqual(other)
      expect(threeWay(was, other, was)).toEqual(other)
    }),
  )
})
