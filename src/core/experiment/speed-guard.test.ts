import { ORIGINAL } from '../decide'
import type { DocumentId, VersionId } from '../ids'
import { speedClass } from '../ledger'
import { lotsOf } from '../simulate'
import { normalQuantile } from '../stats'
import type { DoingRow } from './behaviour'
import { readSpeed } from './speed-guard'

const bold = 'bold' as VersionId
const lots = lotsOf(11)
/** As many pages as that, half of them painted within `middle` milliseconds. */
function painted(version: VersionId, many: number, middle: number): DoingRow[] {
  const classes = new Map<string, number>()
  for (let page = 0; page < many; page++) {
    const what = String(speedClass('paint', middle * Math.exp(0.45 * normalQuantile(0.001 + 0.998 * lots()))))
    classes.set(what, (classes.get(what) ?? 0) + 1)
  }
  return [...classes].map(([what, times]) => ({
    ...{ version, document: 'home' as DocumentId, doing: 'paint' as const, what, times, visitors: times },
  }))
}
const reading = (original: readonly DoingRow[], variant: readonly DoingRow[], margin: number) =>
  readSpeed([...original, ...variant], [ORIGINAL, bold], margin, 20_000)[0]

test('a variant that takes half as long again is slower than a tenth, and not slower than the double', () => {
  const [original, variant] = [painted(ORIGINAL, 4000, 1200), painted(bold, 4000, 1800)]
  const found = reading(original, variant, 0.1)
  expect(found?.reading).toBe('broken')
  expect(found?.longer).toBeGreaterThan(0.35)
  expect(found?.longer).toBeLessThan(0.65)
  expect(reading(original, variant, 1)?.reading).toBe('holds')
  expect(reading(original, variant, 0.5)?.reading).toBe('open')
})

test('of a few pages nothing is said, nor of a version that nobody measured', () => {
  expect(reading(painted(ORIGINAL, 4000, 1200), painted(bold, 99, 9000), 0.1)).toMatchObject({ reading: 'open', interval: null })
  expect(reading([], painted(bold, 4000, 9000), 0.1)).toMatchObject({ reading: 'open', longer: null })
})

test('looked at again and again, two that are alike are not told apart', () => {
  let broken = 0
  for (let run = 0; run < 30; run++) {
    const rows: DoingRow[] = []
    let called = false
    for (let day = 0; day < 20; day++) {
      rows.push(...painted(ORIGINAL, 100, 1200), ...painted(bold, 100, 1200))
      called ||=
        reading(
          rows.filter(({ version }) => version === ORIGINAL),
          rows.filter(({ version }) => version === bold),
          0,
        )?.reading === 'broken'
    }
    if (called) broken++
  }
  expect(broken).toBeLessThanOrEqual(2)
})
