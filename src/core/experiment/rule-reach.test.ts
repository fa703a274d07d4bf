import { stranger, type Condition, type Segment, type Visitor } from '../decide'
import type { SegmentId } from '../ids'
import { overlaps, ruleReach } from '.'

const phone: Condition = { kind: 'device', device: 'phone' }
const tablet: Condition = { kind: 'device', device: 'tablet' }
const small: Condition = { kind: 'any', of: [phone, tablet] }
const everybody: Condition = { kind: 'all', of: [] }
const of = (count: number, device: Visitor['device']): Visitor[] => Array.from({ length: count }, () => ({ ...stranger, device }))
const recent = [...of(30, 'phone'), ...of(20, 'tablet'), ...of(50, 'computer')]

test('the first rule that fits wins, so that what a rule is left is less than what it fits', () => {
  expect(ruleReach([phone, small], [], recent)).toEqual([
    { kind: 'share', fitting: 30, shown: 30, of: 100 },
    { kind: 'share', fitting: 50, shown: 20, of: 100 },
  ])
})

test.each<[string, Condition[], string]>([
  ['below one for everybody', [everybody, phone], 'above'],
  ['that says the same as one above', [phone, tablet, phone], 'above'],
  ['for nobody', [phone, { kind: 'any', of: [] }], 'nobody'],
  ['for a segment that is gone', [{ kind: 'segment', segment: 'gone' as SegmentId, fits: true }], 'nobody'],
])('a rule %s is never shown', (_, rules, because) => {
  expect(ruleReach(rules, [], recent).at(-1)).toEqual({ kind: 'never', because })
})

test('below a rule of which no history is kept no number is said, nor of too few visitors', () => {
  const there: Condition = { kind: 'onPageType', pageType: 'Instrument' }
  expect(ruleReach([phone, there, tablet], [], recent).map(({ kind }) => kind)).toEqual(['share', 'unknown', 'unknown'])
  expect(ruleReach([phone], [], recent.slice(0, 20))).toEqual([{ kind: 'unknown' }])
})

test('how many two segments have in common, the most first', () => {
  const segment = (id: string, condition: Condition): Segment => ({ id: id as SegmentId, name: id, condition })
  const found = overlaps([segment('phones', phone), segment('small', small), segment('tablets', tablet)], recent)
  expect(found.get('small' as SegmentId)).toEqual([
    { id: 'phones', both: 30, of: 50 },
    { id: 'tablets', both: 20, of: 50 },
  ])
  expect(found.get('phones' as SegmentId)).toEqual([{ id: 'small', both: 30, of: 30 }])
})
