import { noUtm } from '../decide'
import { goalSchema, libraryOf, type Goal } from '../goals'
import type { VisitorEvent } from '../events'
import type { DocumentId, NodeId, RoundId, TestId, VersionId } from '../ids'
import { epochAt } from './rules'
import { visitAfter, type Visit } from './visit'
import {
  books,
  countedRound,
  fold,
  isOpen,
  rememberedVisitor,
  rulesAt,
  speedClass,
  speedIn,
  unknownVisitor,
  worthClass,
  worthUpTo,
  type CountedRound,
  type Rules,
  type SiteRules,
} from '.'

/* Where one thing ends and the next begins: a moment, a pixel or a cent before, at, and after each edge. */
const MINUTE = 60_000
const DAY = 86_400_000
const began = Date.parse('2026-03-02T08:00:00Z')
const at = (milliseconds: number) => new Date(began + milliseconds)
const visitor = 'a'.repeat(32)
const happened = (milliseconds: number, what: object) => ({ visitor, at: at(milliseconds), ...what }) as VisitorEvent
const arrival = {
  ...{ source: 'search', device: 'phone', language: 'cy', region: 'XP-FE', referrer: 'https://seek.example/' },
  ...{ utm: { medium: 'mail' }, attributes: [['member', 'yes']] },
}
const page = (milliseconds: number, document = 'home', more: object = {}) =>
  happened(milliseconds, { kind: 'page', document, path: `/${document}`, pageType: 'Plain', arrival: null, ...more })
const click = (milliseconds: number, node: string, more: object = {}) =>
  happened(milliseconds, { kind: 'click', document: 'home', nodes: [node], markers: [], ...more })
const order = (milliseconds: number, number: string, value: number) =>
  happened(milliseconds, { kind: 'order', order: number, value })
const seen = (milliseconds: number) => happened(milliseconds, { kind: 'seen', round: 'r', version: 'bold' })
const assigned = (milliseconds: number) => happened(milliseconds, { kind: 'assigned', round: 'r', version: 'bold' })

const goal = (id: string, wiring: object, more: object = {}): Goal => goalSchema.parse({ id, name: id, wiring, ...more })
const done = goal('done', { kind: 'page', document: 'done' }, { worth: 4, withinDays: 2 })
const bought = goal('bought', { kind: 'order' }, { worthFrom: 'reported', counts: 'everyTime' })
const goals = [done, bought]

const roundOf = (more: Partial<CountedRound> = {}) =>
  countedRound({
    id: 'r' as RoundId,
    versions: ['original', 'bold'] as VersionId[],
    ...{ goals, parts: ['hero' as NodeId], open: [{ from: at(0), to: null }] },
    ...more,
  })
const site = (since: number): SiteRules => ({
  ...{ since: at(since), bounceSeconds: 5, goals, library: libraryOf(goals) },
  dayOf: (moment) => moment.toISOString().slice(0, 10),
})
const rules = (more: Partial<CountedRound> = {}): Rules => ({
  site: [site(0)],
  rounds: new Map([['r' as RoundId, roundOf(more)]]),
  calls: new Map([['call-root' as NodeId, 'call' as DocumentId]]),
})
const foldAll = (events: readonly VisitorEvent[], by = rules()) =>
  fold(
    unknownVisitor(),
    events.map((event, seq) => ({ event, seq })),
    by,
    'everything',
  )
/** A row over all days, by the rest of its key. */
function row(events: readonly VisitorEvent[], wanted: string, by = rules()): Record<string, number> {
  const total: Record<string, number> = {}
  for (const { book, key, sums } of foldAll(events, by).sums.rows()) {
    const place = (books[book].key as readonly string[]).indexOf('day')
    if ([book, ...key.filter((_, index) => index !== place)].join(' ') === wanted)
      sums.forEach((sum, index) => (total[books[book].sums[index] ?? ''] = (total[books[book].sums[index] ?? ''] ?? 0) + sum))
  }
  return Object.fromEntries(Object.entries(total).filter(([, sum]) => sum !== 0))
}

describe('a visit', () => {
  const first = visitAfter(null, page(0, 'home', { arrival }), 5) as Visit

  test('remembers how it began, as far as its first page said so', () => {
    expect(first).toEqual({
      ...{ number: 1, beganAt: began, lastAt: began, document: 'home', lastDocument: 'home', documents: ['home'], stayed: false },
      ...arrival,
    })
    expect(visitAfter(null, page(0), 5)).toMatchObject({
      ...{ source: null, device: null, language: null, region: null, utm: {}, referrer: '', attributes: [] },
    })
  })

  test('goes on for exactly thirty minutes of silence, and not for a moment more', () => {
    expect(visitAfter(first, page(30 * MINUTE, 'plans'), 5)).toMatchObject({
      ...{ number: 1, beganAt: began, lastAt: began + 30 * MINUTE, lastDocument: 'plans', documents: ['home', 'plans'] },
      ...{ stayed: true, source: 'search' },
    })
    expect(visitAfter(first, page(30 * MINUTE + 1, 'plans'), 5)).toMatchObject({
      ...{ number: 2, beganAt: began + 30 * MINUTE + 1, document: 'plans', documents: ['plans'], stayed: false, source: null },
    })
  })

  test('is kept up by what is done on a page, and begun by nothing but a page', () => {
    expect(visitAfter(null, click(0, 'hero'), 5)).toBeNull()
    const pressed = visitAfter(first, click(20 * MINUTE, 'hero'), 5)
    expect(pressed).toMatchObject({ number: 1, lastAt: began + 20 * MINUTE, documents: ['home'], lastDocument: 'home' })
    expect(visitAfter(pressed, page(50 * MINUTE), 5)).toMatchObject({ number: 1 })
    expect(visitAfter(first, click(31 * MINUTE, 'hero'), 5)).toBe(first)
  })

  test('has no part in what is reported from elsewhere', () => {
    for (const what of [
      { kind: 'order', order: '1', value: 3 },
      { kind: 'event', name: 'x', value: null },
    ])
      expect(visitAfter(first, happened(MINUTE, what), 5)).toBe(first)
  })

  test('names each page once', () => {
    const there = visitAfter(first, page(1000, 'plans'), 5)
    expect(visitAfter(there, page(2000, 'home'), 5)).toMatchObject({ documents: ['home', 'plans'], lastDocument: 'home' })
  })
})

describe('a round', () => {
  const spans = roundOf({
    open: [
      { from: at(0), to: at(10) },
      { from: at(20), to: null },
    ],
  })
  test.each([
    [-1, false],
    [0, true],
    [10, true],
    [11, false],
    [19, false],
    [20, true],
    [1e12, true],
  ])('that is held up from 10 to 20 is open at %i: %s', (moment, open) => expect(isOpen(spans, at(moment))).toBe(open))

  test('is in the next epoch from the moment on at which it was reweighed', () => {
    const reweighed = roundOf({ reweighed: [at(10), at(20)] })
    expect([9, 10, 19, 20].map((moment) => epochAt(reweighed, at(moment)))).toEqual([1, 2, 2, 3])
  })

  test('of the site’s rules those hold that were noted last before, and the first for all that was before it', () => {
    const [one, two] = [site(10), site(20)]
    expect([0, 10, 19, 20].map((moment) => rulesAt([one, two], at(moment)))).toEqual([one, one, one, two])
    expect(() => rulesAt([], at(0))).toThrow('no rules')
  })
})

describe('a conversion', () => {
  const inTest = 'tests r 1 done bold'
  test.each([
    [0, true],
    [2 * DAY, true],
    [2 * DAY + 1, false],
  ])('of a goal of two days counts %i ms after exposure: %s', (later, counts) => {
    expect(row([page(0), seen(1000), page(1000 + later, 'done')], inTest).converters === 1).toBe(counts)
  })

  test('before exposure counts for nobody, and a version that the round does not have for nothing', () => {
    expect(row([page(0), assigned(1), page(2, 'done'), seen(3)], inTest)).not.toHaveProperty('converters')
    expect(row([{ ...seen(0), version: 'gone' } as VisitorEvent, page(1, 'done')], 'tests r 1  gone')).toEqual({})
  })

  test('is by a press on the part exposure; a press beside it, or the part that was only read, is not', () => {
    expect(row([page(0), assigned(1), click(2, 'hero')], 'tests r 1  bold')).toMatchObject({ exposed: 1 })
    expect(row([page(0), assigned(1), click(2, 'foot')], 'tests r 1  bold')).toEqual({ assigned: 1 })
    const read = happened(2, { kind: 'read', document: 'home', node: 'hero' })
    expect(row([page(0), assigned(1), read], 'tests r 1  bold')).toEqual({ assigned: 1 })
  })

  test('of a version that was seen and not the one that was given exposes nobody', () => {
    const other = { ...seen(2), version: 'original' } as VisitorEvent
    expect(row([page(0), assigned(1), other], 'tests r 1  bold')).toEqual({ assigned: 1 })
  })

  test('adds squares and products as worth and visits grow', () => {
    const events = [page(0), seen(1), order(2, 'a', 3), page(31 * MINUTE + 2), order(32 * MINUTE, 'b', 4)]
    expect(row(events, 'tests r 1 bought bold')).toEqual({
      ...{ converters: 1, conversions: 2, worth: 7, worthSquared: 49, visits: 2, visitsSquared: 4, visitsWorth: 14 },
    })
    const classes = foldAll(events)
      .sums.rows()
      .filter(({ book, key }) => book === 'worths' && key[2] === 'bought')
    expect(classes).toMatchObject([{ key: ['r', '1', 'bought', 'bold', String(worthClass(7))], sums: [1, 7, 49, 2, 14] }])
  })
})

describe('a call to action', () => {
  const key = 'calls call home page'
  test.each([
    [0, true],
    [14 * DAY, true],
    [14 * DAY + 1, false],
  ])('is credited with what happens %i ms after its press: %s', (later, counts) => {
    expect(row([click(0, 'call-root'), page(later, 'done')], key).submissions === 1).toBe(counts)
  })

  test('that was pressed after it happened is credited with nothing', () => {
    expect(row([page(0, 'done'), click(1, 'call-root')], key)).toEqual({ clicks: 1 })
  })

  test('gives back of an order what it was credited with, in the same share, and once', () => {
    const events = [click(0, 'call-root'), order(1, 'a', 40)]
    expect(row(events, key)).toEqual({ clicks: 1, submissions: 1, worth: 40 })
    expect(row([...events, order(2, 'a', -10)], key)).toEqual({ clicks: 1, submissions: 1, worth: 30 })
    expect(row([...events, order(2, 'a', -10), order(3, 'a', -90)], key)).toEqual({ clicks: 1, submissions: 1 })
    // Reported before its order, and by halves.
    expect(row([click(0, 'call-root'), order(1, 'a', -5), order(2, 'a', -5), order(3, 'a', 40)], key)).toMatchObject({
      worth: 30,
    })
  })

  test('in a newsletter is seen and followed there, and credited there', () => {
    const letter = (did: string, later: number) =>
      happened(later, { kind: 'letter', letter: 7, recipient: visitor, call: 'call', did })
    const events = [letter('shown', 0), letter('followed', 1), page(2, 'done')]
    expect(row(events, 'calls call call newsletter')).toEqual({ views: 1, clicks: 1, submissions: 1, worth: 4 })
    expect(foldAll(events).after.calls.press).toMatchObject({ letter: 7, channel: 'newsletter' })
    expect(row([letter('shown', 0), page(2, 'done')], 'calls call call newsletter')).toEqual({ views: 1 })
  })
})

describe('the site’s figures', () => {
  const figures = [page(0, 'home', { arrival }), page(1000, 'plans'), page(2000, 'home'), page(DAY, 'home')]
  test.each<[string, object]>([
    ['*', { times: 4, visitors: 1 }],
    ['home', { times: 3, visitors: 1 }],
    ['plans', { times: 1, visitors: 1 }],
    ['u:*', { times: 4, visitors: 2 }],
    ['v:*', { times: 2, visitors: 1 }],
    ['v:home', { times: 2, visitors: 1 }],
    ['e:home', { times: 1 }],
    ['e:*', { times: 1 }],
    ['p:home', { times: 2 }],
    ['p:plans', { times: 1 }],
    ['l:home', { times: 2 }],
    ['l:plans', {}],
    ['from:search', { times: 1, visitors: 1 }],
    ['on:phone', { times: 1, visitors: 1 }],
  ])('count under %s', (subject, sums) => expect(row(figures, `site ${subject}`)).toEqual(sums))

  test('count a named event and an order by what they are called, a refund not as an order', () => {
    const events = [happened(0, { kind: 'event', name: 'played', value: null }), order(1, 'a', 9), order(2, 'a', -9)]
    expect([row(events, 'site n:played'), row(events, 'site n:*order')]).toEqual([
      { times: 1, visitors: 1 },
      { times: 1, visitors: 1 },
    ])
    expect(row(events, 'site g:bought')).toEqual({ times: 1, visitors: 1 })
  })
})

test('what somebody does is noted up to sixty different things, and the presses after that as presses alone', () => {
  const presses = Array.from({ length: 70 }, (_, index) => click(10 + index, `n-${index}`, { spot: [1, 2] }))
  const events = [page(0), seen(1), ...presses]
  expect(foldAll(events).after.enrolments.get('r' as RoundId)?.did.size).toBe(60)
  expect(row(events, 'doings r bold home pressed n-0')).toEqual({ times: 1, visitors: 1 })
  expect(row(events, 'doings r bold home pressed n-69')).toEqual({ times: 1 })
  expect(row(events, 'doings r bold home spot n-69 12 ')).toEqual({ times: 1 })
})

describe('classes', () => {
  test('of speed hold what they say, each a tenth wider than the one before it', () => {
    expect([0, 0.99, 1, 1.09, 1.11].map((of) => speedClass('paint', of))).toEqual([0, 0, 1, 1, 2])
    for (const measured of [1, 7, 180, 2500, 60_000]) {
      const middle = speedIn('response', speedClass('response', measured))
      expect(Math.abs(Math.log(middle / measured))).toBeLessThanOrEqual(Math.log(1.1) / 2 + 1e-9)
    }
    expect(speedIn('paint', 0)).toBe(0.5)
    expect([0, 0.009, 0.01, 0.1, 9].map((of) => speedClass('shift', of))).toEqual([0, 0, 1, 10, 200])
    expect(speedIn('shift', 10)).toBeCloseTo(0.105, 12)
  })

  test('of worth hold what they say, and nothing of who has brought nothing', () => {
    expect([worthClass(0), worthClass(-3)]).toEqual([null, null])
    for (const worth of [0.01, 1, 12.5, 9999]) {
      const up = worthUpTo(worthClass(worth) ?? Number.NaN)
      expect(up).toBeGreaterThan(worth)
      expect(up / 1.1).toBeLessThanOrEqual(worth * (1 + 1e-12))
    }
  })
})

describe('somebody as counting remembers them', () => {
  const around = {
    pageTypeOf: (document: DocumentId) => (document === 'home' ? 'Plain' : undefined),
    clockOf: (moment: Date) => ({ weekday: moment.getUTCDay(), hour: moment.getUTCHours() }) as never,
    testOf: (round: RoundId) => (round === 'r' ? ('t-1' as TestId) : null),
  }
  const met = foldAll([page(0, 'home', { arrival }), seen(1), page(1000, 'done')]).after

  test('is as they were on their last visit', () => {
    expect(rememberedVisitor(met, around)).toMatchObject({
      ...{ device: 'phone', visits: 1, language: 'cy', region: 'XP-FE', goalsReached: ['done'] },
      beginning: { source: 'search', utm: { ...noUtm, medium: 'mail' }, referrer: 'https://seek.example/' },
      attributes: new Map([['member', 'yes']]),
      kept: new Map([['t-1', 'bold']]),
      pagesSeen: [
        { page: 'home', pageType: 'Plain' },
        { page: 'done', pageType: '' },
      ],
      pagesEver: [
        { page: 'home', pageType: 'Plain', visits: 1, daysAgo: 0 },
        { page: 'done', pageType: '', visits: 1, daysAgo: 0 },
      ],
    })
  })

  test('is nobody without a visit, keeps no version of what is no test, and has a device even where none was said', () => {
    expect(rememberedVisitor(unknownVisitor(), around)).toBeNull()
    expect(rememberedVisitor(met, { ...around, testOf: () => null })?.kept.size).toBe(0)
    const unsaid = rememberedVisitor(foldAll([page(0)]).after, around)
    expect(unsaid).toMatchObject({ beginning: { source: '' }, device: expect.any(String) as string })
  })
})
