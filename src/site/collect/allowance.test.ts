import { Allowance, limitsOf, rates } from './allowance'

test('as many as may come at once come, then one for each share of a minute, and who was refused is told how long', () => {
  const allowance = new Allowance({ burst: 3, perMinute: 6 })
  expect([1, 2, 3, 4].map(() => allowance.take('a', 0))).toEqual([0, 0, 0, 10])
  expect(allowance.take('b', 0)).toBe(0)
  expect(allowance.take('a', 9_000)).toBe(1)
  expect(allowance.take('a', 10_000)).toBe(0)
  // A clock that goes back takes nothing away and gives nothing.
  expect(allowance.take('a', 5_000)).toBe(10)
})

test('an address is refused whoever it says it is, and one visitor wherever they come from', () => {
  const limits = limitsOf({ ...rates, form: { visitor: { burst: 1, perMinute: 1 }, address: { burst: 2, perMinute: 1 } } })
  expect(limits('form', { visitor: 'v', address: 'x' }, 0)).toBe(0)
  expect(limits('form', { visitor: 'v', address: 'y' }, 0)).toBe(60)
  expect(limits('form', { visitor: 'w', address: 'x' }, 0)).toBe(0)
  expect(limits('form', { visitor: null, address: 'x' }, 0)).toBe(60)
})
