import fc from 'fast-check'
import { comparisonNamed, comparisonsIn, matches, stranger, type Comparison, type Condition, type Visitor } from '../decide'
import type { DocumentId } from '../ids'
import { agreeing, asVisitor, madeUpSchema } from './made-up'
import { explained, otherwise, otherwiseWords, toGetRule } from './explain'

const phone: Comparison = { kind: 'device', device: 'phone' }
const near: Comparison = { kind: 'region', region: 'XP-HA' }
const often: Comparison = { kind: 'visits', are: 'atLeast', times: 3 }
const site = {
  ...{ pages: [], pageTypes: [], goals: [], attributes: [], segments: [], tests: [] },
  regions: [{ code: 'XP-HA', name: 'Harrowby' }],
}

test('somebody made up is known as the site would know them, and is the same person each time', () => {
  const of = madeUpSchema.parse({
    ...{ device: 'phone', region: 'XP-HA', visits: 3, pagesSeen: ['harp'], pagesBefore: ['plans'], day: '2026-11-29', hour: 19 },
    utm: { source: 'School Letter' },
  })
  const visitor = asVisitor(of, (page) => (page === 'harp' ? 'Instrument' : 'Page'))
  expect(visitor).toMatchObject({
    id: expect.stringMatching(/^[0-9a-f]{32}$/),
    beginning: { source: 'school-letter' },
    moment: { day: '2026-11-29', weekday: 7, hour: 19 },
    pagesSeen: [{ page: 'harp', pageType: 'Instrument' }],
    pagesEver: [{ page: 'harp' }, { page: 'plans' }],
    leftOut: null,
  })
  expect(asVisitor({ ...of, device: 'tablet' }, () => '').id).toBe(visitor.id)
  expect(asVisitor({ ...of, person: 2 }, () => '').id).not.toBe(visitor.id)
})

test.each<[string, object]>([
  ['a region that is endless', { region: 'x'.repeat(5000) }],
  ['pages without end', { pagesSeen: Array.from({ length: 31 }, () => 'harp') }],
  ['a day that is none', { day: '2026-02-30' }],
  ['half a visit', { visits: 0.5 }],
])('%s is refused', (_, wrong) => expect(madeUpSchema.safeParse(wrong).success).toBe(false))

test('why a condition holds or not is said part by part', () => {
  const condition: Condition = { kind: 'all', of: [phone, { kind: 'any', of: [near, often] }, { kind: 'none', of: [often] }] }
  const visitor: Visitor = { ...stranger, device: 'phone', region: 'XP-HA' }
  expect(explained(condition, visitor, site)).toEqual({
    holds: true,
    words: 'all of these',
    of: [
      { holds: true, words: 'comes with a phone', of: [] },
      {
        holds: true,
        words: 'any of these',
        of: [
          { holds: true, words: 'is in Harrowby', of: [] },
          { holds: false, words: 'has come at least 3 times, this visit counted', of: [] },
        ],
      },
      {
        holds: true,
        words: 'none of these',
        of: [{ holds: false, words: 'has come at least 3 times, this visit counted', of: [] }],
      },
    ],
  })
  expect(explained({ kind: 'all', of: [phone] }, visitor, site).words).toBe('comes with a phone')
})

test('to get a rule, it has to fit and those above it must not', () => {
  const visitor: Visitor = { ...stranger, device: 'phone' }
  const rules: Condition[] = [phone, { kind: 'any', of: [{ kind: 'all', of: [near, often] }, often] }]
  const changes = toGetRule(rules, 1, visitor) ?? []
  expect(otherwiseWords(changes, site)).toBe('not: comes with a phone, and has come at least 3 times, this visit counted')
  expect(toGetRule([{ kind: 'all', of: [] }, phone], 1, visitor)).toBeNull()
})

const leaf = fc.record({
  kind: fc.constant('visits' as const),
  are: fc.constantFrom('atLeast', 'atMost'),
  times: fc.integer({ min: 2, max: 999 }),
})
const { tree } = fc.letrec<{ tree: Condition }>((tie) => ({
  tree: fc.oneof(
    { depthSize: 'small' },
    leaf,
    fc.record({ kind: fc.constantFrom('all', 'any', 'none'), of: fc.array(tie('tree'), { maxLength: 3 }) }),
  ),
}))

test('what would have to be otherwise makes the condition come out otherwise, and nothing less is said', () => {
  // Each comparison can come out either way: there is no visitor of whom all are free, so they are answered for directly.
  const holdsWith = (condition: Condition, answers: ReadonlyMap<string, boolean>): boolean => {
    if (!('of' in condition))
      return answers.get(JSON.stringify(condition)) ?? comparisonNamed(condition.kind).holds(condition, stranger)
    const each = condition.of.map((part) => holdsWith(part, answers))
    return condition.kind === 'all' ? each.every(Boolean) : condition.kind === 'any' ? each.some(Boolean) : !each.some(Boolean)
  }
  fc.assert(
    fc.property(tree, fc.boolean(), (condition, wanted) => {
      const changes = otherwise(condition, stranger, wanted)
      if (changes === null) return
      const answers = new Map(changes.map(({ comparison, holds }) => [JSON.stringify(comparison), holds]))
      const asked = comparisonsIn(condition).map((one) => JSON.stringify(one))
      fc.pre(new Set(asked).size === asked.length)
      expect(holdsWith(condition, answers)).toBe(wanted)
      if (matches(condition, stranger) === wanted) expect(changes).toEqual([])
    }),
    { numRuns: 500 },
  )
})

test('pages are of the types that the site says', () => {
  expect(asVisitor(madeUpSchema.parse({ pagesBefore: ['a'] }), (page: DocumentId) => `type of ${page}`).pagesEver).toEqual([
    { page: 'a', pageType: 'type of a', visits: 1, daysAgo: 1 },
  ])
})

test('a page may have been seen in many visits, of which there were more then', () => {
  const often = madeUpSchema.parse({ pagesSeen: ['a'], pagesBefore: ['a', 'b'], beforeVisits: 3, beforeDays: 20 })
  expect(asVisitor(often, () => 'Page').pagesEver).toMatchObject([
    { page: 'a', visits: 4, daysAgo: 0 },
    { page: 'b', visits: 3, daysAgo: 20 },
  ])
  const asked = (days: number): Condition => ({
    kind: 'seenOften',
    what: { kind: 'page', page: 'b' as DocumentId },
    visits: 3,
    days,
  })
  expect(
    [7, 30].map((days) =>
      matches(
        asked(days),
        asVisitor(often, () => 'Page'),
      ),
    ),
  ).toEqual([false, true])
  expect([
    agreeing(often).visits,
    agreeing({ ...often, visits: 9 }).visits,
    agreeing({ ...often, pagesBefore: [] }).visits,
  ]).toEqual([4, 9, 1])
})
