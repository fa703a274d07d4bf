import { conditionSchema } from '../decide'
import type { VersionId } from '../ids'
import { traits } from '../ledger'
import { bySegment, type SegmentCounts } from './segments'
import { conditionFor, suggestionsFrom } from './suggestions'

const [original, bold] = ['original', 'bold'] as VersionId[]
const counts = (value: string, ofOriginal: [number, number], ofBold: [number, number]): SegmentCounts[] =>
  [ofOriginal, ofBold].map(([exposed, converters], at) => ({
    ...{ trait: 'device', value, exposed, converters },
    version: (at === 0 ? original : bold) as VersionId,
  }))
const suggested = (...of: SegmentCounts[][]) => suggestionsFrom(bySegment(of.flat(), [original, bold] as VersionId[]))

test('where a version works for some and not for others, it is suggested for those', () => {
  const [found, ...more] = suggested(
    counts('phone', [4000, 400], [4000, 560]),
    counts('computer', [4000, 400], [4000, 320]),
    counts('tablet', [300, 30], [300, 29]),
  )
  expect(more).toEqual([])
  expect(found).toMatchObject({ version: 'bold', condition: { kind: 'device', device: 'phone' }, visitors: 8000 })
  expect(found?.here).toEqual({ version: 0.14, original: 0.1 })
  expect(found?.elsewhere.version).toBeCloseTo(349 / 4300)
})

test.each<[string, SegmentCounts[][]]>([
  ['works alike for all', [counts('phone', [4000, 400], [4000, 560]), counts('computer', [4000, 400], [4000, 555])]],
  [
    'is worse for some and no better for others',
    [counts('phone', [4000, 400], [4000, 402]), counts('computer', [4000, 400], [4000, 200])],
  ],
  ['was seen by too few', [counts('phone', [40, 4], [40, 9]), counts('computer', [40, 9], [40, 2])]],
  ['was seen by one kind only', [counts('phone', [4000, 400], [4000, 560])]],
  ['was seen by nobody', []],
])('nothing is suggested where it %s', (_, of) => expect(suggested(...of)).toEqual([]))

test('every trait can be asked for again by a rule, whatever its value is named', () => {
  for (const trait of traits)
    for (const value of ['phone', 'new', 'en', 'XP-HA', 'search', 'constructor', '']) {
      const condition = conditionFor(trait, value)
      if (condition !== null && value !== '' && !(trait === 'region' && value !== 'XP-HA'))
        expect(conditionSchema.safeParse(condition).success).toBe(true)
    }
})
