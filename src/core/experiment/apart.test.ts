import fc from 'fast-check'
import { freeOf, sizeOf, takeLots, type Lots } from './apart'

test('tests of a group take what is free, the lowest first, and are refused more', () => {
  expect(takeLots(5000, [], [])).toEqual([[0, 5000]])
  expect(takeLots(3000, [], [[0, 5000]])).toEqual([[5000, 8000]])
  expect(takeLots(4000, [], [[2000, 5000]])).toEqual([
    [0, 2000],
    [5000, 7000],
  ])
  expect(takeLots(6000, [], [[0, 5000]])).toBeNull()
  expect(freeOf([[0, 5000]])).toBe(5000)
})

test('raising a share keeps everybody who is in, lowering it the lowest of them', () => {
  expect(takeLots(6000, [[5000, 8000]], [[0, 2000]])).toEqual([[2000, 8000]])
  expect(takeLots(1000, [[5000, 8000]], [[0, 2000]])).toEqual([[5000, 6000]])
})

test('whatever was taken and given back before, no two tests ever share anybody', () => {
  const steps = fc.array(fc.tuple(fc.integer({ min: 0, max: 4 }), fc.integer({ min: 0, max: 10_000 })), { maxLength: 30 })
  fc.assert(
    fc.property(steps, (wanted) => {
      const tests: Lots[] = [[], [], [], [], []]
      for (const [test, share] of wanted) {
        const others = tests.filter((_, at) => at !== test).flat()
        const found = takeLots(share, tests[test] ?? [], others)
        if (found === null) expect(freeOf(others)).toBeLessThan(share)
        else {
          expect(sizeOf(found)).toBe(share)
          tests[test] = found
        }
      }
      const all = tests.flat().toSorted(([one], [other]) => one - other)
      all.forEach(([from], at) => expect(from).toBeGreaterThanOrEqual(all[at - 1]?.[1] ?? 0))
    }),
  )
})
