import { splitCheck } from '../stats'
import { bucket, numberOf, numbersOf, unitOf } from '.'

const idOf = (n: number) => n.toString(16).padStart(32, '0')

test('a million ids fill 100 ranges of buckets evenly', () => {
  const counts = Array.from({ length: 100 }, () => 0)
  for (let n = 0; n < 1_000_000; n++) {
    const range = Math.floor(bucket(numberOf('salt'), unitOf(idOf(n))) / 100)
    counts[range] = (counts[range] ?? 0) + 1
  }
  expect(
    splitCheck(
      counts,
      counts.map(() => 1),
    ).pValue,
  ).toBeGreaterThan(0.001)
})

test('two tests draw independently of each other', () => {
  const cells = [0, 0, 0, 0]
  for (let n = 0; n < 200_000; n++) {
    const [one, other] = ['t-1', 't-2'].map((test) => bucket(numbersOf(test).split, unitOf(idOf(n))))
    const cell = ((one ?? 0) < 5000 ? 0 : 1) + ((other ?? 0) < 5000 ? 0 : 2)
    cells[cell] = (cells[cell] ?? 0) + 1
  }
  expect(splitCheck(cells, [1, 1, 1, 1]).pValue).toBeGreaterThan(0.001)
})
