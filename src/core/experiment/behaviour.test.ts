import { ORIGINAL } from '../decide'
import type { DocumentId, VersionId } from '../ids'
import { speedClass, speedIn, type Doing } from '../ledger'
import { behaviourOf, quantileOf, spotsOf, type DoingRow } from './behaviour'
import { slowerWords, speedWords } from './speed-words'

const bold = 'bold' as VersionId
const page = 'home' as DocumentId
const row = (doing: Doing, what: string, times: number, version = ORIGINAL as VersionId, visitors = times): DoingRow => ({
  ...{ version, document: page, doing, what, times, visitors },
})
/** Paints of these visitors, spread around a middle. */
const painted = (middle: number, version?: VersionId) =>
  Array.from({ length: 9 }, (_, n) => row('paint', String(speedClass('paint', middle * 1.1 ** (n - 4))), 40, version))

test('a visit that was one look is a bounce, and most are first among what was pressed and where they went', () => {
  const { versions } = behaviourOf(
    [
      ...[row('visit', '', 200), row('stayed', '', 150), row('read', 'title', 80)],
      ...[row('next', 'plans', 30), row('next', 'about', 60)],
      ...[row('pressed', 'menu', 9, ORIGINAL as VersionId, 7), row('pressed', 'go', 90, ORIGINAL as VersionId, 70)],
    ],
    [ORIGINAL, bold],
  )
  expect(versions[0]).toMatchObject({
    visits: 200,
    bounced: { share: 0.25 },
    read: 80,
    next: [{ page: 'about' }, { page: 'plans' }],
    pressed: [
      { node: 'go', times: 90, visitors: 70 },
      { node: 'menu', times: 9, visitors: 7 },
    ],
  })
  expect(versions[1]).toMatchObject({ visits: 0, bounced: null, next: [] })
})

describe('how fast a version was', () => {
  test('is what half, and three quarters, of its visitors stayed below, with what that may be', () => {
    // Order statistics of 1 to 100: rank 75, and 75 ± 1.96 √18.75, by hand 67 and 85.
    const hundred = Array.from({ length: 100 }, (_, n) => ({ value: n + 1, times: 1 }))
    expect(quantileOf(hundred, 0.75)).toEqual({ value: 75, interval: [67, 85] })
    const [{ speed }] = behaviourOf(painted(2000), [ORIGINAL]).versions as [ReturnType<typeof behaviourOf>['versions'][number]]
    expect(speed.paint.measured).toBe(360)
    expect(speed.paint.median?.value).toBeCloseTo(2000, -2.5)
    expect(speed.response).toEqual({ measured: 0, median: null, slowest: null })
  })

  test('is said to be slower where it is beyond chance, and by a tenth', () => {
    const slower = (middle: number) => behaviourOf([...painted(2000), ...painted(middle, bold)], [ORIGINAL, bold]).slower
    expect(slower(3000)).toEqual([{ version: bold, speed: 'paint' }])
    expect([slower(2000), slower(1500)]).toEqual([[], []])
  })

  test('is kept in classes that are a tenth wide, from nothing to two minutes', () => {
    for (const measured of [0, 0.4, 1, 7, 250, 2500, 119_000]) {
      const middle = speedIn('paint', speedClass('paint', measured))
      expect(Math.abs(middle - measured)).toBeLessThanOrEqual(Math.max(1, measured * 0.05))
    }
    expect(speedIn('shift', speedClass('shift', 0.123))).toBeCloseTo(0.125)
    expect(speedClass('shift', 90)).toBe(200)
  })
})

test('places of presses are read back, and what is no place is passed over', () => {
  const rows = [row('spot', 'go 37 phone', 4), row('spot', 'go 3 phone', 4), row('spot', 'go 37 toaster', 4), row('spot', '', 4)]
  expect(spotsOf(rows, ORIGINAL, page)).toEqual([{ node: 'go', x: 3, y: 7, device: 'phone', times: 4 }])
  expect(spotsOf(rows, bold, page)).toEqual([])
})

test('variants that are slower alike are named together, by what visitors wait for', () => {
  const other = 'other' as VersionId
  const found = behaviourOf([...painted(2000), ...painted(3000, bold), ...painted(3000, other)], [ORIGINAL, bold, other])
  const names = { version: (version: VersionId) => version, goal: () => '' } as unknown as Parameters<typeof slowerWords>[1]
  expect(slowerWords(found, names)).toEqual([
    {
      versions: [bold, other],
      words: expect.stringMatching(
        /^‘bold’ and ‘other’ are slower: for one visitor in four it takes 3\.\d s or more until the page is painted, where the original takes 2\.\d s\.$/,
      ),
    },
  ])
  expect([speedWords('response', 143), speedWords('paint', 1234), speedWords('shift', 0.1)]).toEqual(['140 ms', '1.2 s', '0.10'])
})
