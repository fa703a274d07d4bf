import type { DocumentId, RoundId, TestId, VersionId } from '../ids'
import { splitCheck } from '../stats'
import {
  bucket,
  comparisonNamed,
  comparisonNames,
  comparisonSchema,
  type Condition,
  conditionSchema,
  conditionWords,
  decide,
  type Draw,
  EVERYBODY,
  type Ladder,
  matches,
  ORIGINAL,
  type Visitor,
} from '.'

const somebody: Visitor = {
  id: '0'.repeat(32),
  device: 'computer',
  campaign: null,
  pagesSeen: [],
  kept: new Map(),
  leftOut: null,
}
const visitors = (count: number): Visitor[] =>
  Array.from({ length: count }, (_, n) => ({ ...somebody, id: n.toString(16).padStart(32, '0') }))
const test1 = 't-1' as TestId
const bold = 'bold' as VersionId
const draw: Draw = {
  test: test1,
  round: 'r-1' as RoundId,
  salt: 't-1',
  share: 10_000,
  arms: [
    { version: ORIGINAL, weight: 5000 },
    { version: bold, weight: 5000 },
  ],
  paused: false,
}
const shown = (visitor: Visitor, change: Partial<Draw> = {}) =>
  decide({ draws: [{ ...draw, ...change }], ladders: [] }, visitor)[0]

describe('hashing', () => {
  test('a million ids fill 100 ranges of buckets evenly', () => {
    const counts = Array.from({ length: 100 }, () => 0)
    for (let n = 0; n < 1_000_000; n++) {
      const range = Math.floor(bucket('salt', n.toString(16).padStart(32, '0')) / 100)
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
    for (const { id } of visitors(200_000)) {
      const cell = (bucket('t-1:split', id ?? '') < 5000 ? 0 : 1) + (bucket('t-2:split', id ?? '') < 5000 ? 0 : 2)
      cells[cell] = (cells[cell] ?? 0) + 1
    }
    expect(splitCheck(cells, [1, 1, 1, 1]).pValue).toBeGreaterThan(0.001)
  })
})

describe('a test', () => {
  test('splits by weight', () => {
    const arms = [
      { version: ORIGINAL, weight: 2000 },
      { version: bold, weight: 8000 },
    ]
    const bolds = visitors(20_000).filter((visitor) => shown(visitor, { arms })?.version === bold).length
    expect(splitCheck([20_000 - bolds, bolds], [2, 8]).pValue).toBeGreaterThan(0.001)
  })

  test('shows a visitor the same again and again', () => {
    for (const visitor of visitors(50)) expect(shown(visitor)).toEqual(shown(visitor))
  })

  test('raising the share takes in more visitors and moves none who was in', () => {
    for (const visitor of visitors(2000)) {
      const few = shown(visitor, { share: 1000 })
      if (few?.counted) expect(shown(visitor, { share: 6000 })).toEqual(few)
    }
  })

  test('whoever has a variant keeps it when the weights change', () => {
    const kept = new Map([[test1, bold]])
    const arms = [
      { version: ORIGINAL, weight: 9999 },
      { version: bold, weight: 1 },
    ]
    for (const visitor of visitors(50)) {
      expect(shown({ ...visitor, kept }, { arms })).toMatchObject({ version: bold, counted: true, reason: { code: 'kept' } })
    }
  })

  test('a variant that was switched off hands its visitors back to the split', () => {
    const kept = new Map([[test1, 'gone' as VersionId]])
    expect(shown({ ...somebody, kept })?.reason.code).toBe('drawn')
  })

  test.each(['bot', 'studioUser', 'prefetch', 'noConsent'] as const)(
    'shows the original to a %s and does not count it',
    (leftOut) => {
      for (const visitor of visitors(20)) {
        expect(shown({ ...visitor, leftOut })).toMatchObject({
          version: ORIGINAL,
          counted: false,
          reason: { code: 'leftOut', because: leftOut },
        })
      }
    },
  )

  test('outside the share the original is shown and is not the original of the test', () => {
    expect(shown(somebody, { share: 0 })).toMatchObject({
      version: ORIGINAL,
      counted: false,
      reason: { code: 'outsideShare', share: 0 },
    })
  })

  test('a paused test shows everybody the original', () => {
    expect(shown(somebody, { paused: true })).toMatchObject({ version: ORIGINAL, counted: false, reason: { code: 'paused' } })
  })
})

describe('a rule', () => {
  const sawHarp: Visitor = { ...somebody, pagesSeen: [{ page: 'harp' as DocumentId, pageType: 'Instrument' }] }
  const instrument: Condition = { kind: 'pageTypeSeen', pageType: 'Instrument' }
  const phone: Condition = { kind: 'device', device: 'phone' }
  const ladder: Ladder = {
    id: 'p-1',
    rules: [
      { version: 'for-phones' as VersionId, condition: phone },
      { version: 'for-lookers' as VersionId, condition: instrument },
    ],
    holdout: 0,
  }
  const climbed = (visitor: Visitor, change: Partial<Ladder> = {}) =>
    decide({ draws: [], ladders: [{ ...ladder, ...change }] }, visitor)[0]

  test('the first that matches wins, the default comes last', () => {
    expect(climbed({ ...sawHarp, device: 'phone' })?.version).toBe('for-phones')
    expect(climbed(sawHarp)).toMatchObject({ version: 'for-lookers', reason: { code: 'ruleMatched', rule: 1 } })
    expect(climbed(somebody)).toMatchObject({ version: ORIGINAL, reason: { code: 'noRuleMatched' } })
  })

  test('the holdout sees the default and is counted', () => {
    expect(climbed(sawHarp, { holdout: 10_000 })).toMatchObject({
      version: ORIGINAL,
      counted: true,
      reason: { code: 'heldOut', rule: 1 },
    })
  })

  test.each<[string, Condition, boolean]>([
    ['all, one fails', { kind: 'all', of: [instrument, phone] }, false],
    ['any, one holds', { kind: 'any', of: [instrument, phone] }, true],
    ['none, one holds', { kind: 'none', of: [instrument, phone] }, false],
    ['none, none holds', { kind: 'none', of: [phone] }, true],
    ['an empty any', { kind: 'any', of: [] }, false],
    ['a group in a group', { kind: 'all', of: [instrument, { kind: 'none', of: [phone] }] }, true],
    ['another page', { kind: 'pageSeen', page: 'cello' as DocumentId }, false],
  ])('joins conditions: %s', (_, condition, holds) => {
    expect(matches(conditionSchema.parse(condition), sawHarp)).toBe(holds)
  })

  test('a campaign is compared without regard to capitals', () => {
    expect(matches({ kind: 'campaign', campaign: 'Autumn' }, { ...somebody, campaign: 'autumn' })).toBe(true)
  })
})

describe('a condition in words', () => {
  const site = { titleOf: (page: DocumentId) => `The ${page}`, pages: ['harp' as DocumentId], pageTypes: ['Instrument'] }

  test('reads as a sentence, whatever it is made of', () => {
    const saw: Condition = { kind: 'pageSeen', page: 'harp' as DocumentId }
    const phone: Condition = { kind: 'device', device: 'phone' }
    expect(conditionWords({ kind: 'all', of: [saw, phone] }, site)).toBe('saw “The harp” in this visit and comes on a phone')
    expect(conditionWords({ kind: 'none', of: [saw, phone] }, site)).toBe(
      'not: saw “The harp” in this visit, nor comes on a phone',
    )
    expect(conditionWords({ kind: 'any', of: [] }, site)).toBe('nobody yet')
    expect([conditionWords(EVERYBODY, site), conditionWords(null, site)]).toEqual(['everybody', 'everybody'])
  })

  test.each(comparisonNames)('of the kind “%s” begins as something that can be kept', (name) => {
    const begun = comparisonNamed(name).begins(site)
    expect(comparisonSchema.parse(begun)).toEqual(begun)
    // Where the site has nothing yet, it begins with something all the same, or not at all.
    const nothing = comparisonNamed(name).begins({ ...site, pages: [], pageTypes: [] })
    expect(nothing === null || comparisonSchema.safeParse(nothing).success).toBe(true)
  })
})
