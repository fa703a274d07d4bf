import fc from 'fast-check'
import { ORIGINAL, type Condition, type Segment } from '../decide'
import type { GoalId, SegmentId, VersionId } from '../ids'
import { SEGMENT, traits } from '../ledger'
import { byDay, byGoal, byKind, byRound, countedAs, divisionWords, narrowedIn, narrowedText, type CountedOn } from './divisions'
import { fitsAs } from './noted-segments'
import type { SegmentCounts } from './segments'

const bold = 'bold' as VersionId
const versions = [ORIGINAL, bold]
const [reserved, called] = ['reserved', 'constructor'] as [GoalId, GoalId]
const row = (of: Partial<CountedOn>): CountedOn => ({
  ...{ round: 'r-1', goal: '', version: bold, day: '2026-03-02', exposed: 0, converters: 0 },
  ...of,
})
const figures = ({ values }: ReturnType<typeof byGoal>) =>
  values.map(({ value, arms }) => [value, ...arms.map(({ exposed, converters }) => `${converters}/${exposed}`)])

describe('a result divided', () => {
  const rows = [
    row({ exposed: 60 }),
    row({ exposed: 40, day: '2026-03-03' }),
    row({ version: ORIGINAL, exposed: 90 }),
    row({ goal: reserved, converters: 7 }),
    row({ goal: reserved, converters: 3, day: '2026-03-03' }),
    row({ goal: called, converters: 20 }),
    // A step of a funnel is no goal, and what a version that is gone had is nobody’s.
    row({ goal: 'reserved--2', converters: 99 }),
    row({ version: 'gone' as VersionId, exposed: 999 }),
  ]

  test('by goal has each goal of the same visitors, in their order, one that nobody reached as well', () => {
    expect(figures(byGoal(rows, [called, reserved, 'never' as GoalId], versions))).toEqual([
      ['constructor', '0/90', '20/100'],
      ['reserved', '0/90', '10/100'],
      ['never', '0/90', '0/100'],
    ])
  })

  test('by day counts the newest first, and makes no rate of who came and who acted', () => {
    const found = byDay(rows, reserved, versions)
    expect(figures(found)).toEqual([
      ['2026-03-03', '0/0', '3/40'],
      ['2026-03-02', '0/90', '7/60'],
    ])
    expect(found.values.flatMap(({ arms }) => arms).every(({ rate, interval }) => rate === null && interval === null)).toBe(true)
  })

  test('by round asks whether a variant works differently in one', () => {
    const round = (id: string, converters: number) => [
      row({ round: id, version: ORIGINAL, exposed: 2000 }),
      row({ round: id, version: ORIGINAL, goal: reserved, converters: 200 }),
      row({ round: id, exposed: 2000 }),
      row({ round: id, goal: reserved, converters }),
    ]
    const apart = byRound([...round('r-2', 300), ...round('r-1', 150)], ['r-2', 'r-1'], reserved, versions)
    expect(figures(apart).map(([id]) => id)).toEqual(['r-2', 'r-1'])
    expect(apart).toMatchObject({ comparable: true, differing: [bold] })
    expect(divisionWords('round', apart, () => 'Bold')).toBe('‘Bold’ may work differently here: a question for another test.')
    const alike = byRound([...round('r-2', 230), ...round('r-1', 235)], ['r-2', 'r-1'], reserved, versions)
    expect(divisionWords('round', alike, () => 'Bold')).toBe('Nothing says that the versions work differently here.')
  })

  test('by segments has those whom one fits beside all others', () => {
    const phones: Segment = { id: 'phones' as SegmentId, name: 'Phones', condition: { kind: 'device', device: 'phone' } }
    const counts: SegmentCounts[] = [
      { trait: 'device', value: 'phone', version: bold, exposed: 30, converters: 3 },
      { trait: 'device', value: 'computer', version: bold, exposed: 70, converters: 14 },
    ]
    expect(figures(byKind(SEGMENT, counts, versions, [phones]))).toEqual([
      ['phones', '0/0', '3/30'],
      ['!phones', '0/0', '14/70'],
    ])
    expect(byKind('region', counts, versions, [phones]).values).toEqual([])
  })
})

describe('visitors of one kind', () => {
  test('stand in an address as what they are, whatever they are called', () => {
    fc.assert(
      fc.property(fc.constantFrom(...traits, SEGMENT), fc.string({ minLength: 1 }), (trait, value) => {
        expect(narrowedIn(narrowedText({ trait: trait as 'device', value }))).toEqual({ trait, value })
      }),
    )
    for (const nothing of ['', 'device', 'device=', '=phone', 'constructor=phone', 'toString=1'])
      expect(narrowedIn(nothing)).toBeNull()
  })

  test('of a segment are counted under the trait that it asks, or under what was written down of it', () => {
    const counts: SegmentCounts[] = ['phone', 'tablet', 'computer'].map((value) => ({
      ...{ trait: 'device', value, version: bold, exposed: 1, converters: 0 },
    }))
    const condition: Condition = { kind: 'none', of: [{ kind: 'device', device: 'computer' }] }
    const small: Segment = { id: 'small' as SegmentId, name: 'Small', condition }
    const two: Segment = {
      id: 'two' as SegmentId,
      name: 'Two',
      condition: { kind: 'all', of: [condition, { kind: 'region', region: 'XP-FE' }] } as Condition,
    }
    const asked = (id: string) => countedAs({ trait: SEGMENT, value: id }, counts, [small, two])
    expect(asked('small')).toEqual({ trait: 'device', values: ['phone', 'tablet'] })
    expect(asked('two')).toEqual({ trait: SEGMENT, values: [fitsAs(two).in] })
    expect(asked('gone')).toBeNull()
  })
})
