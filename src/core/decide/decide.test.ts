import type { DocumentId, GoalId, RoundId, SegmentId, TestId, VersionId } from '../ids'
import { splitCheck } from '../stats'
import {
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
  isForEverybody,
  isForNobody,
  fitting,
  matches,
  noUtm,
  numberOfHoldout,
  numbersOf,
  ORIGINAL,
  straight,
  stranger,
  type Surroundings,
  type Visitor,
} from '.'

const somebody: Visitor = { ...stranger, id: '0'.repeat(32) }
const visitors = (count: number): Visitor[] =>
  Array.from({ length: count }, (_, n) => ({ ...somebody, id: n.toString(16).padStart(32, '0') }))
const test1 = 't-1' as TestId
const bold = 'bold' as VersionId
const draw: Draw = {
  test: test1,
  round: 'r-1' as RoundId,
  numbers: numbersOf('t-1'),
  share: 10_000,
  arms: [
    { version: ORIGINAL, weight: 5000 },
    { version: bold, weight: 5000 },
  ],
  paused: false,
}
const shown = (visitor: Visitor, change: Partial<Draw> = {}) =>
  decide({ draws: [{ ...draw, ...change }], ladders: [] }, visitor)[0]

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
      { version: 'for-phones' as VersionId, fits: fitting(phone) },
      { version: 'for-lookers' as VersionId, fits: fitting(instrument) },
    ],
    holdout: 0,
    held: numberOfHoldout('p-1'),
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
    const beginning = { ...straight, utm: { ...noUtm, campaign: 'autumn' } }
    expect(matches({ kind: 'campaign', campaign: 'Autumn' }, { ...somebody, beginning })).toBe(true)
  })
})

describe('what is known of a visitor', () => {
  const somebodyElse: Visitor = {
    ...somebody,
    device: 'tablet',
    visits: 3,
    beginning: { source: 'search', utm: { ...noUtm, medium: 'E-Mail' }, referrer: 'shop.guild.example:8080' },
    language: 'cy',
    region: 'XP-FE',
    attributes: new Map([['membership', 'family']]),
    moment: { day: '2026-03-07', weekday: 6, hour: 23 },
    // Drawn anew since: kept under another name.
    kept: new Map([[`${test1}-g2` as TestId, bold]]),
    at: { page: 'harp' as DocumentId, pageType: 'Instrument' },
    pagesSeen: [{ page: 'plans' as DocumentId, pageType: 'Page' }],
    pagesEver: [
      { page: 'plans' as DocumentId, pageType: 'Page', visits: 1, daysAgo: 0 },
      { page: 'harp' as DocumentId, pageType: 'Instrument', visits: 2, daysAgo: 20 },
      { page: 'cello' as DocumentId, pageType: 'Instrument', visits: 1, daysAgo: 9 },
    ],
  }

  test.each<[Condition, boolean]>([
    [{ kind: 'returning', returning: true }, true],
    [{ kind: 'returning', returning: false }, false],
    [{ kind: 'visits', are: 'atLeast', times: 3 }, true],
    [{ kind: 'visits', are: 'atLeast', times: 4 }, false],
    [{ kind: 'visits', are: 'atMost', times: 3 }, true],
    [{ kind: 'visits', are: 'atMost', times: 2 }, false],
    [{ kind: 'language', language: 'cy' }, true],
    [{ kind: 'language', language: 'en' }, false],
    [{ kind: 'region', region: 'XP' }, true],
    [{ kind: 'region', region: 'XP-FE' }, true],
    [{ kind: 'region', region: 'XP-F' }, false],
    [{ kind: 'region', region: 'XF' }, false],
    [{ kind: 'attribute', name: 'membership', is: true, value: 'family' }, true],
    [{ kind: 'attribute', name: 'membership', is: false, value: 'family' }, false],
    [{ kind: 'attribute', name: 'signed-in', is: true, value: 'yes' }, false],
    [{ kind: 'attribute', name: 'signed-in', is: false, value: 'yes' }, true],
    [{ kind: 'source', source: 'Search' }, true],
    [{ kind: 'source', source: 'direct' }, false],
    [{ kind: 'utm', field: 'medium', text: 'e-mail' }, true],
    [{ kind: 'utm', field: 'term', text: 'e-mail' }, false],
    [{ kind: 'referrer', host: 'guild.example' }, true],
    [{ kind: 'referrer', host: 'shop.guild.example' }, true],
    [{ kind: 'referrer', host: 'ild.example' }, false],
    [{ kind: 'weekday', days: [6, 7] }, true],
    [{ kind: 'weekday', days: [1] }, false],
    [{ kind: 'hours', from: 22, to: 6 }, true],
    [{ kind: 'hours', from: 6, to: 22 }, false],
    [{ kind: 'hours', from: 23, to: 24 }, true],
    [{ kind: 'hours', from: 22, to: 23 }, false],
    [{ kind: 'given', test: test1, version: bold, given: true }, true],
    [{ kind: 'given', test: test1, version: ORIGINAL, given: true }, false],
    [{ kind: 'given', test: 't-2' as TestId, version: bold, given: false }, true],
    [{ kind: 'onPageType', pageType: 'Instrument' }, true],
    [{ kind: 'onPageType', pageType: 'Page' }, false],
    [{ kind: 'dates', from: '2026-03-07', until: '2026-03-07' }, true],
    [{ kind: 'dates', from: null, until: '2026-03-06' }, false],
    [{ kind: 'dates', from: '2026-03-08', until: null }, false],
    [{ kind: 'dates', from: null, until: null }, true],
    [{ kind: 'pageSeen', page: 'harp' as DocumentId }, false],
    [{ kind: 'pageSeen', page: 'harp' as DocumentId, within: 'ever' }, true],
    [{ kind: 'seenOften', what: { kind: 'page', page: 'harp' as DocumentId }, visits: 2, days: 20 }, true],
    [{ kind: 'seenOften', what: { kind: 'page', page: 'harp' as DocumentId }, visits: 2, days: 19 }, false],
    [{ kind: 'seenOften', what: { kind: 'page', page: 'harp' as DocumentId }, visits: 3, days: 30 }, false],
    [{ kind: 'seenOften', what: { kind: 'type', pageType: 'Instrument' }, visits: 3, days: 9 }, true],
    [{ kind: 'seenOften', what: { kind: 'type', pageType: 'Guitar' }, visits: 1, days: 365 }, false],
    [{ kind: 'pageTypeSeen', pageType: 'Instrument' }, false],
    [{ kind: 'pageTypeSeen', pageType: 'Instrument', within: 'ever' }, true],
  ])('%j: %s', (condition, holds) => expect(matches(conditionSchema.parse(condition), somebodyElse)).toBe(holds))

  test('of somebody without a region, no region holds', () =>
    expect(matches({ kind: 'region', region: 'XP' }, somebody)).toBe(false))
})

describe('a version that is switched off', () => {
  const arms = (...weights: readonly number[]) =>
    weights.map((weight, index) => ({ version: [ORIGINAL, bold, 'calm' as VersionId][index] ?? ORIGINAL, weight }))
  const before = { arms: arms(5000, 2500, 2500) }
  const hadCalm = visitors(8000)
    .map((visitor) => ({ visitor, version: shown(visitor, before)?.version ?? ORIGINAL }))
    .filter(({ version }) => version === 'calm')
    .map(({ visitor, version }): Visitor => ({ ...visitor, kept: new Map([[test1, version]]) }))

  test('hands its visitors back to the split, each by a lot of its own', () => {
    const counts = new Map<string, number>()
    for (const visitor of hadCalm) {
      const version = shown(visitor, { arms: arms(6000, 4000), numbers: numbersOf('t-1', 1) })?.version ?? ''
      counts.set(version, (counts.get(version) ?? 0) + 1)
    }
    const n = hadCalm.length
    const chiSquare = (
      [
        [ORIGINAL, 0.6],
        [bold, 0.4],
      ] as const
    ).reduce((sum, [version, share]) => sum + ((counts.get(version) ?? 0) - n * share) ** 2 / (n * share), 0)
    // One degree of freedom, p = 0.001.
    expect([n > 1800, chiSquare < 10.83]).toEqual([true, true])
    // By the lots that they were drawn by before, all of them would have gone to one.
    expect(new Set(hadCalm.map((visitor) => shown(visitor, { arms: arms(6000, 4000) })?.version)).size).toBe(1)
  })

  test('leaves everybody else with what they have', () => {
    const kept: Visitor = { ...somebody, kept: new Map([[test1, bold]]) }
    expect(shown(kept, { arms: arms(6000, 4000), numbers: numbersOf('t-1', 1) })).toMatchObject({
      version: bold,
      reason: { code: 'kept' },
    })
  })
})

test('what was reached in this browser, or was not, can be asked for', () => {
  const reserved = 'reserved' as GoalId
  const asks = (reached: boolean): Condition => ({ kind: 'goalReached', goal: reserved, reached })
  const did: Visitor = { ...somebody, goalsReached: ['other' as GoalId, reserved] }
  expect([matches(asks(true), did), matches(asks(false), did)]).toEqual([true, false])
  expect([matches(asks(true), somebody), matches(asks(false), somebody)]).toEqual([false, true])
})

test('once everybody is drawn anew, what a browser had before counts for nothing', () => {
  const had: Visitor = { ...somebody, kept: new Map([[test1, ORIGINAL]]) }
  const anew = {
    keptAs: 't-1-g1' as TestId,
    numbers: numbersOf('t-1:1'),
    arms: [
      { version: ORIGINAL, weight: 0 },
      { version: bold, weight: 10_000 },
    ],
  }
  expect(shown(had, anew)).toMatchObject({ version: bold, reason: { code: 'drawn' } })
  const has: Visitor = { ...somebody, kept: new Map([['t-1-g1' as TestId, ORIGINAL]]) }
  expect(shown(has, anew)).toMatchObject({ version: ORIGINAL, reason: { code: 'kept' } })
})

describe('a version that is not kept on this browser', () => {
  const onVisits = (visit: string): Visitor => ({ ...somebody, visit })
  const onView = (view: string): Visitor => ({ ...somebody, visit: '1', view, kept: new Map([[test1, bold]]) })
  const versionsOf = (of: readonly Visitor[], keeping: 'visit' | 'view') => of.map((one) => shown(one, { keeping })?.version)

  test('stays the same through a visit, and is drawn anew with the next', () => {
    expect(new Set(versionsOf([onVisits('1'), onVisits('1'), onVisits('1')], 'visit')).size).toBe(1)
    const many = versionsOf(
      Array.from({ length: 400 }, (_, n) => onVisits(String(n))),
      'visit',
    )
    expect(many.filter((version) => version === bold).length).toBeGreaterThan(150)
    expect(many.filter((version) => version === bold).length).toBeLessThan(250)
  })

  test('is drawn anew with every view, whatever the browser says that it had', () => {
    const many = versionsOf(
      Array.from({ length: 400 }, (_, n) => onView(String(n))),
      'view',
    )
    expect(many.filter((version) => version === bold).length).toBeGreaterThan(150)
    expect(many.filter((version) => version === bold).length).toBeLessThan(250)
  })

  test('takes nobody in who is outside the share, however often they come', () => {
    const { reason } = shown(somebody, { share: 5000 }) ?? {}
    const isOut = reason?.code === 'outsideShare'
    const many = Array.from({ length: 50 }, (_, n) => shown(onVisits(String(n)), { share: 5000, keeping: 'visit' })?.reason.code)
    expect(new Set(many.map((code) => code === 'outsideShare'))).toEqual(new Set([isOut]))
  })
})

describe('who takes part', () => {
  const onPhones: Condition = { kind: 'device', device: 'phone' }

  test('is drawn; all others see the original and are not counted as it', () => {
    expect(shown({ ...somebody, device: 'phone' }, { audience: fitting(onPhones) })).toMatchObject({ counted: true })
    expect(shown(somebody, { audience: fitting(onPhones) })).toMatchObject({
      version: ORIGINAL,
      counted: false,
      reason: { code: 'otherAudience' },
    })
  })

  test('goes on taking part, whatever they come with later', () => {
    const before: Visitor = { ...somebody, kept: new Map([[test1, bold]]) }
    expect(shown(before, { audience: fitting(onPhones) })).toMatchObject({
      version: bold,
      counted: true,
      reason: { code: 'kept' },
    })
  })

  test('gets the same version as without the condition', () => {
    const every = visitors(200).map((visitor): Visitor => ({ ...visitor, device: 'phone' }))
    expect(every.map((visitor) => shown(visitor, { audience: fitting(onPhones) })?.version)).toEqual(
      every.map((visitor) => shown(visitor)?.version),
    )
  })

  test.each<[Condition, boolean, boolean]>([
    [EVERYBODY, true, false],
    [{ kind: 'none', of: [] }, true, false],
    [{ kind: 'any', of: [] }, false, true],
    [{ kind: 'all', of: [onPhones, { kind: 'any', of: [] }] }, false, true],
    [{ kind: 'any', of: [onPhones, { kind: 'any', of: [] }] }, false, false],
    [{ kind: 'none', of: [EVERYBODY] }, false, true],
    [onPhones, false, false],
  ])('%j is for everybody: %s, for nobody: %s', (condition, everybody, nobody) => {
    expect([isForEverybody(condition), isForNobody(condition)]).toEqual([everybody, nobody])
  })
})

describe('a condition in words', () => {
  const site: Surroundings = {
    pages: [{ id: 'harp' as DocumentId, title: 'The harp' }],
    pageTypes: ['Instrument'],
    goals: [{ id: 'reserved' as GoalId, name: 'Reserved' }],
    attributes: [{ name: 'membership', values: ['player', 'family'] }],
    tests: [
      {
        id: test1,
        name: 'Words',
        versions: [
          { id: ORIGINAL, name: 'Original' },
          { id: bold, name: 'Bold' },
        ],
      },
    ],
    segments: [{ id: 'parents' as SegmentId, name: 'Parents' }],
    regions: [{ code: 'XP-FE', name: 'Fenmouth' }],
  }

  test('reads as a sentence, whatever it is made of', () => {
    const saw: Condition = { kind: 'pageSeen', page: 'harp' as DocumentId }
    const phone: Condition = { kind: 'device', device: 'phone' }
    expect(conditionWords({ kind: 'all', of: [saw, phone] }, site)).toBe(
      'saw the page “The harp” in this visit and comes with a phone',
    )
    expect(conditionWords({ kind: 'none', of: [saw, phone] }, site)).toBe(
      'not: saw the page “The harp” in this visit, nor comes with a phone',
    )
    expect(conditionWords({ kind: 'any', of: [] }, site)).toBe('nobody yet')
    expect([conditionWords(EVERYBODY, site), conditionWords(null, site)]).toEqual(['everybody', 'everybody'])
  })

  test('says groups within groups, names and numbers', () => {
    const condition = conditionSchema.parse({
      kind: 'any',
      of: [
        { kind: 'region', region: 'XP-FE' },
        {
          kind: 'all',
          of: [
            { kind: 'weekday', days: [7, 6] },
            { kind: 'hours', from: 18, to: 22 },
          ],
        },
        { kind: 'language', language: 'cy' },
        { kind: 'source', source: 'school-letter' },
        { kind: 'pageSeen', page: 'gone', within: 'ever' },
      ],
    })
    expect(conditionWords(condition, site)).toBe(
      'is in Fenmouth or (comes on Saturday or Sunday and comes between 18 and 22 o’clock) or reads in Welsh or came from a source named “school-letter” or saw the page “a page that is gone” in this visit or before',
    )
  })

  test.each(comparisonNames)('of the kind “%s” can be changed word by word, and never into what cannot be kept', (name) => {
    const begun = comparisonNamed(name).begins(site)
    if (begun === null) throw new Error('nothing to begin with')
    let words = 0
    for (const word of comparisonNamed(name).sentence(begun, site)) {
      if (typeof word === 'string') continue
      words++
      const tried: unknown[] =
        word.control === 'choice'
          ? [...word.options.map(({ value }) => word.put(value)), word.put('constructor')]
          : word.control === 'several'
            ? [word.put([]), word.put(['1', '__proto__']), word.put(word.options.map(({ value }) => value))]
            : word.control === 'number'
              ? [word.put(word.least), word.put(word.most), word.put(word.most + 1), word.put(1.5), word.put(Number.NaN)]
              : word.control === 'day'
                ? [word.put(null), word.put('2026-03-02'), word.put('2026-02-30'), word.put(''), word.put('today')]
                : [word.put(''), word.put('  '), word.put('a'), word.put('x'.repeat(word.most)), word.put('x'.repeat(5000))]
      const kept = tried.filter((one) => one !== null)
      expect(kept.length).toBeGreaterThan(0)
      // What a schema of names or codes refuses is refused where it is saved, at the test or the version.
      if (!['pageTypeSeen', 'language', 'region', 'referrer', 'source'].includes(name))
        for (const one of kept) expect(comparisonSchema.safeParse(one).success).toBe(true)
    }
    expect(words).toBeGreaterThan(0)
  })

  test.each(comparisonNames)('of the kind “%s” begins as something that can be kept', (name) => {
    const begun = comparisonNamed(name).begins(site)
    expect(comparisonSchema.parse(begun)).toEqual(begun)
    // Where the site has nothing yet, it begins with something all the same, or not at all.
    const nothing = comparisonNamed(name).begins({
      pages: [],
      pageTypes: [],
      goals: [],
      attributes: [],
      tests: [],
      segments: [],
      regions: [],
    })
    expect(nothing === null || comparisonSchema.safeParse(nothing).success).toBe(true)
  })
})
