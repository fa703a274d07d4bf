import murmurhash from 'murmurhash'
import type { RoundId, SegmentId, TestId, VersionId } from '../ids'
import {
  allowedOf,
  armAt,
  attributeSchema,
  attributesSchema,
  bucket,
  comparisonsIn,
  conditionSchema,
  conditionWords,
  consentSchema,
  decide,
  fitting,
  isForEverybody,
  isForNobody,
  leavingOutSchema,
  leftOutReasons,
  mixed,
  numberOf,
  numberOfGroup,
  numberOfHoldout,
  numbersOf,
  ORIGINAL,
  segmentsIn,
  stranger,
  unitOf,
  withSegments,
  type Condition,
  type Draw,
  type Ladder,
  type Surroundings,
  type Visitor,
} from '.'

const phone: Condition = { kind: 'device', device: 'phone' }
const welsh: Condition = { kind: 'language', language: 'cy' }
const all = (...of: Condition[]): Condition => ({ kind: 'all', of })
const any = (...of: Condition[]): Condition => ({ kind: 'any', of })
const none = (...of: Condition[]): Condition => ({ kind: 'none', of })
const nowhere: Surroundings = { pages: [], pageTypes: [], goals: [], attributes: [], tests: [], segments: [], regions: [] }

describe('conditions within conditions', () => {
  const [neither, onPhone, inWelsh, both] = [
    stranger,
    { ...stranger, device: 'phone' },
    { ...stranger, language: 'cy' },
    { ...stranger, device: 'phone', language: 'cy' },
  ] as const satisfies readonly Visitor[]
  test.each<[string, Condition, readonly boolean[]]>([
    ['one alone', phone, [false, true, false, true]],
    ['all of them', all(phone, welsh), [false, false, false, true]],
    ['any of them', any(phone, welsh), [false, true, true, true]],
    ['none of them', none(phone, welsh), [true, false, false, false]],
    ['all of one', all(phone), [false, true, false, true]],
    ['any of one', any(phone), [false, true, false, true]],
    ['none of one', none(phone), [true, false, true, false]],
    ['all of nothing', all(), [true, true, true, true]],
    ['any of nothing', any(), [false, false, false, false]],
    ['none of nothing', none(), [true, true, true, true]],
    ['one but not the other', all(phone, none(welsh)), [false, true, false, false]],
  ])('%s', (_, condition, fits) => {
    expect([neither, onPhone, inWelsh, both].map(fitting(condition))).toEqual(fits)
  })

  test('who is settled is not asked further', () => {
    let asked = 0
    const counting: Visitor = new Proxy(onPhone, {
      get: (target, name) => (name === 'language' ? (asked++, 'cy') : Reflect.get(target, name)),
    })
    fitting(any(phone, welsh))(counting)
    fitting(none(phone, welsh))(counting)
    expect(asked).toBe(0)
    fitting(all(phone, welsh))(counting)
    expect(asked).toBe(1)
  })

  test('are for everybody, or for nobody, whoever comes', () => {
    const kinds = (condition: Condition) => [isForEverybody(condition), isForNobody(condition)]
    expect([all(), none(), any(), phone, all(phone)].map(kinds)).toEqual([
      ...[
        [true, false],
        [true, false],
        [false, true],
        [false, false],
        [false, false],
      ],
    ])
    expect(isForNobody(any(any(), all(any())))).toBe(true)
    expect(isForNobody(any(any(), phone))).toBe(false)
    expect(isForNobody(all(phone, any()))).toBe(true)
    expect(isForNobody(none(phone, all()))).toBe(true)
    expect(isForNobody(none(phone, any()))).toBe(false)
  })

  test('have their limits in depth and in number', () => {
    const deep = (levels: number): Condition => (levels === 0 ? phone : all(deep(levels - 1)))
    expect([8, 9].map((levels) => conditionSchema.safeParse(deep(levels)).success)).toEqual([true, false])
    const many = (count: number) => any(...Array.from({ length: count }, () => phone))
    expect([20, 21].map((count) => conditionSchema.safeParse(many(count)).success)).toEqual([true, false])
    expect(conditionSchema.safeParse({ kind: 'some', of: [] }).success).toBe(false)
    expect(comparisonsIn(all(phone, any(welsh, none(phone))))).toEqual([phone, welsh, phone])
  })

  test('read with their groups in brackets, where a group has more than one part', () => {
    const say = (condition: Condition | null) => conditionWords(condition, nowhere)
    expect(say(any(all(phone, welsh), all(phone)))).toBe('(comes with a phone and reads in Welsh) or comes with a phone')
    expect(say(none(phone, welsh))).toBe('not: comes with a phone, nor reads in Welsh')
    expect([say(any()), say(all()), say(none()), say(null)]).toEqual(['nobody yet', 'everybody', 'everybody', 'everybody'])
  })

  test('name segments, each once, and take other names for them', () => {
    const segment = (id: string): Condition => ({ kind: 'segment', segment: id as SegmentId, fits: true })
    const condition = all(segment('a'), any(segment('b'), segment('a'), phone))
    expect(segmentsIn(condition)).toEqual(['a', 'b'])
    expect(withSegments(condition, new Map([['a', 'c']] as [SegmentId, SegmentId][]))).toEqual(
      all(segment('c'), any(segment('b'), segment('c'), phone)),
    )
  })
})

describe('what the site says of its visitors', () => {
  const membership = { name: 'membership', values: ['player', 'family'] }
  const fault = (attribute: object) => attributeSchema.safeParse(attribute).error?.issues[0]?.path
  test('has names and values that are safe in a cookie, each once', () => {
    expect(fault(membership)).toBeUndefined()
    for (const name of ['', 'Member', '-a', 'a b', 'a'.repeat(31), 'constructor'])
      expect(fault({ ...membership, name })).toEqual(['name'])
    expect(fault({ ...membership, name: 'a'.repeat(30) })).toBeUndefined()
    expect(fault({ ...membership, values: [] })).toEqual(['values'])
    expect(fault({ ...membership, values: ['a', 'a'] })).toEqual(['values'])
    const many = (count: number) => Array.from({ length: count }, (_, at) => `v${at}`)
    expect([fault({ ...membership, values: many(20) }), fault({ ...membership, values: many(21) })]).toEqual([
      undefined,
      ['values'],
    ])
    const named = (count: number) => many(count).map((name) => ({ ...membership, name }))
    expect([20, 21].map((count) => attributesSchema.safeParse(named(count)).success)).toEqual([true, false])
    expect(attributesSchema.safeParse([membership, membership]).success).toBe(false)
  })

  test('keeps only what it may say, the last of what is said twice', () => {
    const said: [string, string][] = [
      ['membership', 'player'],
      ['membership', 'family'],
      ['membership', 'king'],
      ['other', 'player'],
    ]
    expect([...allowedOf(said, [{ name: 'school', values: ['yes'] }, membership])]).toEqual([['membership', 'family']])
  })
})

test('who is left out is set by name; an address is one, or a range', () => {
  expect(leavingOutSchema.parse({})).toEqual({ bots: true, studioUsers: true, prefetches: true, addresses: [] })
  const addresses = (...of: string[]) => leavingOutSchema.safeParse({ addresses: of }).success
  expect(addresses('192.0.2.7', '192.0.2.0/24', '2001:db8::1', '2001:db8::/32')).toBe(true)
  expect([addresses('192.0.2'), addresses('192.0.2.0/33'), addresses('here')]).toEqual([false, false, false])
  expect([200, 201].map((count) => addresses(...Array.from({ length: count }, () => '192.0.2.7')))).toEqual([true, false])
  expect(leftOutReasons).toHaveLength(7)
  expect(consentSchema.parse({})).toMatchObject({ asked: false, yes: 'Yes', no: 'No' })
  for (const wrong of [{ words: ' ' }, { words: 'w'.repeat(401) }, { yes: '' }, { no: 'n'.repeat(41) }])
    expect(consentSchema.safeParse(wrong).success).toBe(false)
})

describe('lots', () => {
  test('are what they were: whoever came before keeps what they had', () => {
    // The published vectors of MurmurHash3 (x86, 32 bit), and its end worked out by hand.
    const unit = unitOf('The quick brown fox jumps over the lazy dog')
    expect(unit).toEqual({ high: 0x2e4ff723, low: 0x2fa826cd })
    expect(mixed(0x12345678, unit)).toBe(1_284_022_609)
    expect(bucket(0x12345678, unit)).toBe(2609)
    // What is not ASCII is read as UTF-8.
    const bytes = new TextEncoder().encode('é')
    expect(unitOf('é')).toEqual({ high: murmurhash.v3(bytes, 0), low: murmurhash.v3(bytes, 0x9747b28c) })
  })

  test('of a test drawn again, of a group and of a holdout are lots of their own', () => {
    expect(numbersOf('s').share).toBe(numberOf('s:share'))
    expect(numbersOf('s').split).toBe(numberOf('s:split'))
    expect(numbersOf('s', 2)).toEqual({ share: numberOf('s:share'), split: numberOf('s:split:2') })
    expect([numberOfGroup('g'), numberOfHoldout('p'), numberOfHoldout('p', 1)]).toEqual(
      ['group g', 'p:holdout', 'p:holdout:1'].map(numberOf),
    )
  })

  test('fall into arms by weight, the last bucket into the last', () => {
    const arms = [
      { version: ORIGINAL, weight: 2000 },
      { version: 'b' as VersionId, weight: 8000 },
    ]
    expect([0, 1999, 2000, 9999].map((lot) => armAt(arms, lot))).toEqual([ORIGINAL, ORIGINAL, 'b', 'b'])
    expect(() => armAt(arms.slice(1), 9000)).toThrow(/add up to 8000, not to 10000; bucket 9000/)
  })
})

describe('somebody is decided on', () => {
  const id = '0123456789abcdef0123456789abcdef'
  const somebody: Visitor = { ...stranger, id }
  const [bold, warm] = ['bold', 'warm'] as [VersionId, VersionId]
  const draw: Draw = {
    ...{ test: 't-1' as TestId, round: 'r-1' as RoundId, numbers: numbersOf('t-1'), share: 10_000, paused: false },
    arms: [
      { version: ORIGINAL, weight: 0 },
      { version: bold, weight: 10_000 },
    ],
  }
  const ladder: Ladder = {
    ...{ id: 'p-1', holdout: 0, held: numberOfHoldout('p-1') },
    rules: [{ version: warm, fits: () => true }],
  }
  const shown = (change: Partial<Draw> = {}, visitor = somebody) =>
    decide({ draws: [{ ...draw, ...change }], ladders: [] }, visitor)[0]
  const place = bucket(numbersOf('t-1').share, unitOf(id))

  test('rules first, then tests, each under its own name', () => {
    expect(decide({ draws: [draw], ladders: [ladder] }, somebody)).toEqual([
      { key: 'p-1', version: warm, counted: true, reason: { code: 'ruleMatched', rule: 0 } },
      {
        ...{ key: 't-1', version: bold, counted: true },
        reason: { code: 'drawn', bucket: bucket(numbersOf('t-1').split, unitOf(id)) },
      },
    ])
  })

  test('for a visit by a lot of the visit, for a view by a lot of each', () => {
    const lots = (keeping: 'visit' | 'view', views: readonly string[]) =>
      views.map((view) => {
        const reason = shown({ keeping }, { ...somebody, visit: '7', view })?.reason
        return reason?.code === 'drawn' ? reason.bucket : null
      })
    expect(lots('visit', ['1', '2', '3'])).toEqual([1, 2, 3].map(() => bucket(numbersOf('t-1').split, unitOf(`${id} 7`))))
    expect(lots('view', ['1', '2'])).toEqual(['1', '2'].map((view) => bucket(numbersOf('t-1').split, unitOf(`${id} 7 ${view}`))))
  })

  test('within the share up to it and not beyond; in a group, in its own places', () => {
    expect(shown({ share: place + 1 })?.counted).toBe(true)
    expect(shown({ share: place })).toMatchObject({
      counted: false,
      reason: { code: 'outsideShare', bucket: place, share: place },
    })
    const own = bucket(7, unitOf(id))
    const apart = (...places: [number, number][]) => shown({ share: 0, apart: { number: 7, places } })?.counted
    expect(apart([own, own + 1])).toBe(true)
    expect(apart([0, own], [own + 1, 10_000])).toBe(false)
    expect(apart([0, own], [own, own + 1])).toBe(true)
    expect(apart()).toBe(false)
  })

  test('by what they kept, under the name it is kept by, as long as it is in the test', () => {
    const kept = (name: string, version: string): Visitor => ({
      ...somebody,
      kept: new Map([[name, version]] as [TestId, VersionId][]),
    })
    expect(shown({}, kept('t-1', ORIGINAL))).toEqual({ key: 't-1', version: ORIGINAL, counted: true, reason: { code: 'kept' } })
    expect(shown({}, kept('t-1', 'gone'))?.reason.code).toBe('drawn')
    expect(shown({ keptAs: 't-1-g1' as TestId }, kept('t-1', ORIGINAL))?.reason.code).toBe('drawn')
    expect(shown({ keptAs: 't-1-g1' as TestId }, kept('t-1-g1', ORIGINAL))?.reason.code).toBe('kept')
    expect(shown({ keeping: 'view' }, kept('t-1', ORIGINAL))?.reason.code).toBe('drawn')
    // Whoever keeps something is in, whatever is asked of those who are new.
    expect(shown({ audience: () => false }, kept('t-1', ORIGINAL))?.reason.code).toBe('kept')
    expect(shown({ audience: () => false })).toMatchObject({ counted: false, reason: { code: 'otherAudience' } })
    expect(shown({ keptOnly: true })).toMatchObject({ counted: false, reason: { code: 'outsideShare', share: 0 } })
    expect(shown({ keptOnly: true }, kept('t-1', ORIGINAL))?.counted).toBe(true)
    expect(shown({ paused: true }, kept('t-1', ORIGINAL))).toMatchObject({ version: ORIGINAL, reason: { code: 'paused' } })
  })

  test('not by a test where nothing may be kept, but by a rule that asks of the request alone', () => {
    const both = (visitor: Visitor) => decide({ draws: [draw], ladders: [{ ...ladder, holdout: 10_000 }] }, visitor)
    const withheld = both({ ...somebody, id: null, leftOut: 'withheld' })
    expect(withheld).toEqual([
      { key: 'p-1', version: warm, counted: true, reason: { code: 'ruleMatched', rule: 0 } },
      { key: 't-1', version: ORIGINAL, counted: false, reason: { code: 'leftOut', because: 'withheld' } },
    ])
    for (const { version, counted, reason } of both({ ...somebody, leftOut: 'bot' }))
      expect([version, counted, reason]).toEqual([ORIGINAL, false, { code: 'leftOut', because: 'bot' }])
    expect(shown({}, { ...somebody, id: null })?.reason).toEqual({ code: 'leftOut', because: 'noConsent' })
  })

  test('by a rule up to its holdout, which is counted as the original', () => {
    const held = bucket(ladder.held, unitOf(id))
    const by = (holdout: number) => decide({ draws: [], ladders: [{ ...ladder, holdout }] }, somebody)[0]
    expect(by(held)).toMatchObject({ version: warm })
    expect(by(held + 1)).toEqual({
      ...{ key: 'p-1', version: ORIGINAL, counted: true },
      reason: { code: 'heldOut', rule: 0, bucket: held },
    })
    expect(decide({ draws: [], ladders: [{ ...ladder, rules: [] }] }, somebody)[0]).toEqual({
      ...{ key: 'p-1', version: ORIGINAL, counted: false, reason: { code: 'noRuleMatched' } },
    })
  })
})
