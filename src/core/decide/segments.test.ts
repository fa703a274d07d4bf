import fc from 'fast-check'
import type { DocumentId, SegmentId } from '../ids'
import {
  conditionSchema,
  matches,
  resolved,
  segmentSchema,
  segmentsIn,
  stranger,
  type Condition,
  type Segment,
  type Visitor,
} from '.'

const parents = 'parents' as SegmentId
const phone: Condition = { kind: 'device', device: 'phone' }
const welsh: Condition = { kind: 'language', language: 'cy' }
const named = (fits = true): Condition => ({ kind: 'segment', segment: parents, fits })
const segment = (condition: Condition): Segment => ({ id: parents, name: 'Parents', condition })
const visitor: Visitor = { ...stranger, device: 'phone' }

test('whom a segment fits is what it asks, and it can be turned round', () => {
  const fits = (condition: Condition) => matches(resolved(condition, [segment(phone)]), visitor)
  expect([fits(named()), fits(named(false)), fits({ kind: 'all', of: [named(), welsh] })]).toEqual([true, false, false])
})

test('nobody is shown what names a segment that is gone, however it is turned', () => {
  for (const condition of [
    named(),
    named(false),
    { kind: 'none', of: [named()] },
    { kind: 'any', of: [phone, named()] },
  ] as const)
    expect(matches(resolved(condition, []), visitor)).toBe(false)
})

test('of several segments each asks its own, and one that is gone is enough for nobody', () => {
  const far = { id: 'far' as SegmentId, name: 'Far', condition: welsh }
  const both: Condition = { kind: 'all', of: [named(), { kind: 'segment', segment: far.id, fits: false }] }
  expect(resolved(both, [far, segment(phone)])).toEqual({ kind: 'all', of: [phone, { kind: 'none', of: [welsh] }] })
  expect(matches(resolved(both, [far]), visitor)).toBe(false)
  expect(resolved(phone, [])).toBe(phone)
})

test('a segment is not made of segments, nor deeper than what names it can hold', () => {
  const deep = (levels: number): Condition => (levels === 0 ? phone : { kind: 'all', of: [deep(levels - 1)] })
  expect(segmentSchema.safeParse(segment(named())).success).toBe(false)
  expect([4, 5].map((levels) => segmentSchema.safeParse(segment(deep(levels))).success)).toEqual([true, false])
})

const leaf = fc.oneof(
  fc.constantFrom<Condition>(phone, welsh, named(), named(false)),
  fc.constant<Condition>({ kind: 'pageSeen', page: 'harp' as DocumentId }),
)
const tree = fc.letrec<{ tree: Condition }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 3 },
    leaf,
    fc.record({
      kind: fc.constantFrom('all' as const, 'any' as const, 'none' as const),
      of: fc.array(tie('tree'), { maxLength: 3 }),
    }),
  ),
})).tree

test('what a segment asks in its place decides as the segment does', () => {
  fc.assert(
    fc.property(
      tree,
      fc.constantFrom('phone' as const, 'computer' as const),
      fc.constantFrom('cy', 'en'),
      (condition, device, language) => {
        const somebody: Visitor = { ...stranger, device, language }
        const asked: Condition = { kind: 'any', of: [phone, welsh] }
        const fits = device === 'phone' || language === 'cy'
        // By hand: each name as the answer that it stands for.
        const plain = (one: Condition): boolean => {
          if (!('of' in one)) return one.kind === 'segment' ? fits === one.fits : matches(one, somebody)
          if (one.kind === 'all') return one.of.every(plain)
          return one.of.some(plain) === (one.kind === 'any')
        }
        const whole = resolved(conditionSchema.parse(condition), [segment(asked)])
        expect(segmentsIn(whole)).toEqual([])
        expect(matches(whole, somebody)).toBe(plain(condition))
      },
    ),
  )
})
