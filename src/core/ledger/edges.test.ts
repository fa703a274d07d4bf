import { noUtm } from '../decide'
import { goalSchema, libraryOf, stepId, type Goal } from '../goals'
import type { VisitorEvent } from '../events'
import type { DocumentId, GoalId, NodeId, RoundId, TestId, VersionId } from '../ids'
import { Sums } from './rows'
import { epochAt } from './rules'
import { visitAfter, type Visit } from './visit'
import {
  books,
  countedRound,
  fold,
  isLate,
  isOpen,
  recount,
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
    const sale = [order(1, 'a', 9), order(2, 'a', -9), order(3, 'b', 0)]
    const events = [happened(0, { kind: 'event', name: 'played', value: null }), ...sale]
    expect([row(events, 'site n:played'), row(events, 'site n:*order')]).toEqual([
      { times: 1, visitors: 1 },
      { times: 2, visitors: 1 },
    ])
    expect(row(events, 'site g:bought')).toEqual({ times: 2, visitors: 1 })
  })

  test('tell of each subject once since when it has been counted for a visitor', () => {
    const { firsts } = foldAll([page(0, 'plans'), page(1, 'plans'), page(DAY, 'plans')])
    expect(firsts.filter(({ subject }) => subject === 'plans')).toEqual([{ subject: 'plans', day: '2026-03-02' }])
    expect(foldAll([]).firsts).toEqual([])
  })

  test('count whoever is on the site once a day, and a source or a device only where one is known', () => {
    expect(row([page(0), page(1), page(2)], 'site u:*')).toEqual({ times: 3, visitors: 1 })
    const subjectsOf = (events: readonly VisitorEvent[]) =>
      foldAll(events)
        .sums.rows()
        .map(({ key }) => key[0])
    expect(subjectsOf([page(0)]).filter((subject) => /^(on|from):/.test(subject ?? ''))).toEqual([])
    // Whoever reads on the same page has come to no other.
    expect(row([page(0), page(1), click(2, 'foot')], 'site l:home')).toEqual({ times: 1 })
    expect(row([happened(0, { kind: 'event', name: 'played', value: null })], 'site v:*')).toEqual({})
  })

  test('of a rehearsal there are none', () => {
    const arrived = [page(0), seen(1), page(2, 'done')].map((event, seq) => ({ event, seq }))
    const found = fold(unknownVisitor(), arrived, rules(), 'tests').sums.rows()
    expect(new Set(found.map(({ book }) => book))).toEqual(new Set(['tests', 'segments', 'worths', 'doings']))
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

describe('what somebody does', () => {
  const did = (events: readonly VisitorEvent[], what: string, document = 'home') =>
    row([page(0), seen(1), ...events], `doings r bold ${document} ${what}`)
  const read = (later: number, node: string) => happened(later, { kind: 'read', document: 'home', node })

  test('is more than one look only where they stayed, then or later in that visit', () => {
    expect(did([], 'stayed ')).toEqual({})
    expect(did([page(2, 'plans'), page(3)], 'stayed ')).toEqual({ times: 1, visitors: 1 })
    // In another visit they stay as others do.
    expect(did([page(31 * MINUTE), page(31 * MINUTE + 1, 'plans')], 'stayed ')).toEqual({})
    expect(row([page(0), page(1, 'plans'), seen(2)], 'doings r bold plans stayed ')).toEqual({ times: 1, visitors: 1 })
  })

  test('next is the first other page of that visit', () => {
    expect(did([page(2), click(3, 'foot', { document: 'plans' })], 'next plans')).toEqual({})
    expect(did([page(2), page(3, 'plans'), page(4, 'done')], 'next plans')).toEqual({ times: 1, visitors: 1 })
    expect(did([page(3, 'plans'), page(4, 'done')], 'next done')).toEqual({})
    expect(did([page(31 * MINUTE, 'plans')], 'next plans')).toEqual({})
    expect(did([page(2)], 'next home')).toEqual({})
  })

  test('is reading of the part that varies, once, and of no other', () => {
    expect(did([read(2, 'hero'), read(3, 'hero')], 'read hero')).toEqual({ times: 1, visitors: 1 })
    expect(did([read(2, 'foot')], 'read foot')).toEqual({})
    const two = rules({ parts: new Set(['hero', 'foot'] as NodeId[]) })
    expect(row([page(0), seen(1), read(2, 'hero'), read(3, 'foot')], 'doings r bold home read foot', two)).toMatchObject({
      times: 1,
    })
    expect(did([click(2, 'hero')], 'read hero')).toEqual({})
  })

  test('is a press where they saw it, and where it was pressed', () => {
    expect(did([click(2, 'foot', { spot: [1, 2], document: 'plans' })], 'pressed foot')).toEqual({})
    expect(did([click(2, 'foot')], 'pressed foot')).toEqual({})
    expect(did([click(2, 'foot', { nodes: [], spot: [1, 2] })], 'pressed undefined')).toEqual({})
    expect(did([read(2, 'hero')], 'pressed hero')).toEqual({})
  })

  test('is how fast its first page was, by what was measured of it', () => {
    const speed = (later: number, of: object) =>
      happened(later, { kind: 'speed', document: 'home', ...{ paint: null, response: null, shift: null }, ...of })
    expect(did([speed(2, { paint: 500 })], `paint ${speedClass('paint', 500)}`)).toEqual({ times: 1, visitors: 1 })
    expect(did([speed(2, { paint: 500 }), speed(3, { paint: 500 })], `paint ${speedClass('paint', 500)}`)).toEqual({
      ...{ times: 1, visitors: 1 },
    })
    const rows = foldAll([page(0), seen(1), speed(2, { paint: 500 })]).sums.rows()
    expect(rows.filter(({ key }) => key[3] === 'response' || key[3] === 'shift')).toEqual([])
  })

  test('is what they reached, once for each goal, with the days that it took', () => {
    const events = [order(2, 'a', 5), order(3, 'b', 5)]
    expect(did(events, 'after bought 0')).toEqual({ times: 1, visitors: 1 })
    expect(did([page(DAY + 2, 'done')], 'after done 1')).toEqual({ times: 1, visitors: 1 })
  })
})

describe('a version that is not kept', () => {
  const given = (events: readonly VisitorEvent[], keeping: CountedRound['keeping']) =>
    row(events, 'tests r 1  bold', rules({ keeping })).assigned
  test.each<[CountedRound['keeping'], string, VisitorEvent[], number]>([
    ['visit', 'half an hour later', [assigned(0), assigned(30 * MINUTE)], 1],
    ['visit', 'after half an hour of silence', [assigned(0), assigned(30 * MINUTE + 1)], 2],
    ['visit', 'after a page on the way', [page(0), assigned(0), page(20 * MINUTE), assigned(50 * MINUTE)], 1],
    ['visit', 'after a page long ago', [page(0), assigned(20 * MINUTE), assigned(50 * MINUTE)], 1],
    ['visit', 'and seen after it', [assigned(0), seen(60 * MINUTE)], 1],
    ['view', 'at the same moment', [assigned(0), assigned(0)], 1],
    ['view', 'with the next view', [assigned(0), assigned(1)], 2],
    ['view', 'and seen', [assigned(0), seen(1)], 1],
    ['browser', 'a day later', [assigned(0), assigned(DAY)], 1],
  ])('for longer than a %s is given again %s', (keeping, _, events, times) => expect(given(events, keeping)).toBe(times))
})

describe('a version that somebody has lost', () => {
  const inTest = (events: readonly VisitorEvent[], by = rules()) => row(events, 'tests r 1  bold', by)
  const other = (later: number, kind: string) => happened(later, { kind, round: 'r', version: 'original' })

  test('is one in whose place they were given another, and not one beside which they saw another', () => {
    expect(inTest([page(0), assigned(1), other(2, 'seen'), seen(3)])).toEqual({ assigned: 1, exposed: 1 })
    expect(inTest([page(0), assigned(1), assigned(2), seen(3)])).toEqual({ assigned: 1, exposed: 1 })
    expect(inTest([page(0), assigned(1), other(2, 'assigned'), seen(3)])).toEqual({ assigned: 1 })
  })

  test('is exposed by a form that is sent from it, once, and only while the round is open', () => {
    const form = happened(2, { kind: 'form', document: 'home', form: 'hero', nodes: ['hero'], entry: 'e' })
    expect(inTest([page(0), assigned(1), form])).toMatchObject({ exposed: 1 })
    expect(inTest([page(0), assigned(1), click(2, 'hero'), click(3, 'hero')])).toMatchObject({ exposed: 1 })
    const paused = rules({
      open: [
        { from: at(0), to: at(10) },
        { from: at(20), to: null },
      ],
    })
    expect(inTest([page(0), assigned(1), click(15, 'hero')], paused)).toEqual({ assigned: 1 })
    expect(row([page(0), assigned(1), click(15, 'hero'), page(25, 'done')], 'tests r 1 done bold', paused)).toEqual({})
  })
})

describe('an order', () => {
  const fixed = goal('fixed', { kind: 'order' }, { worth: 5, counts: 'everyTime' })
  const way = goal('way', { kind: 'steps', goals: ['done', 'bought'] }, { worth: 1 })
  const all = [done, bought, fixed, way]
  const by: Rules = {
    ...rules({ goals: all, library: libraryOf(all) }),
    site: [{ ...site(0), goals: all, library: libraryOf(all) }],
  }
  const events = [page(0), seen(1), click(2, 'call-root'), order(3, 'a', 30)]

  test('that is taken back takes nothing from goals that are worth the same with every order', () => {
    expect(row([...events, order(4, 'a', -30)], 'tests r 1 fixed bold', by)).toMatchObject({ conversions: 1, worth: 5 })
    expect(row([...events, order(4, 'a', -30)], 'tests r 1 bought bold', by)).not.toHaveProperty('worth')
    // Both are credited to the call; the fixed worth stays.
    expect(row(events, 'calls call home page', by)).toEqual({ clicks: 1, submissions: 2, worth: 35 })
    expect(row([...events, order(4, 'a', -30)], 'calls call home page', by)).toEqual({ clicks: 1, submissions: 2, worth: 5 })
  })

  test('that was taken back once is not taken back again', () => {
    const twice = [...events, order(4, 'a', -30), order(5, 'a', -30)]
    expect(foldAll(twice, by).sums.rows()).toEqual(foldAll([...events, order(4, 'a', -30)], by).sums.rows())
  })

  test('that is taken back after a press was not led to by it', () => {
    expect(row([page(0), order(1, 'a', 30), click(2, 'call-root'), order(3, 'a', -30)], 'calls call home page', by)).toEqual({
      clicks: 1,
    })
  })

  test('is remembered with what is left, the goals with how often and for how much', () => {
    const { after } = foldAll([...events, order(4, 'b', 12), order(5, 'a', -10)], by)
    expect(after.progress.reached.get('bought' as GoalId)).toEqual({ times: 2, worth: 32 })
    expect(after.progress.reached.get('fixed' as GoalId)).toEqual({ times: 2, worth: 10 })
    expect(after.progress.orders.get('a')).toEqual({ left: 20, goals: ['bought'] })
  })

  test('passes a funnel that counts once a single time', () => {
    const through = [page(2, 'done'), order(3, 'a', 30), page(4, 'done'), order(5, 'b', 30)]
    expect(row([page(0), seen(1), ...through], 'tests r 1 way bold', by)).toMatchObject({ converters: 1, conversions: 1 })
    expect(row([page(0), seen(1), ...through], `tests r 1 ${stepId(way.id, 1)} bold`, by)).toMatchObject({
      converters: 1,
      conversions: 1,
    })
  })
})

describe('a batch', () => {
  const arrived = (event: VisitorEvent, seq: number) => ({ event, seq })
  const counting = () => ({ sums: new Sums(), firsts: [] })

  test('of nothing changes nobody, and somebody unknown is as they were', () => {
    expect(recount(null, [], null, rules(), 'everything', counting())).toEqual({
      state: unknownVisitor(),
      last: { at: new Date(0), seq: 0 },
    })
    const known = recount(null, [arrived(page(5), 3)], null, rules(), 'everything', counting())
    expect(known.last).toEqual({ at: at(5), seq: 3 })
    expect(recount(known, [], null, rules(), 'everything', counting())).toBe(known)
  })

  test('is late where something in it happened before, or with, what was counted last', () => {
    const known = { state: unknownVisitor(), last: { at: at(5), seq: 3 } }
    const late = (moment: number, seq: number) => isLate(known, [arrived(page(moment), seq)])
    expect([late(4, 9), late(5, 3), late(5, 4), late(6, 1)]).toEqual([true, true, false, false])
    expect(isLate(null, [arrived(page(0), 0)])).toBe(false)
    expect(() => recount(known, [arrived(page(4), 9)], null, rules(), 'everything', counting())).toThrow('the history')
  })
})

describe('beside another test', () => {
  const [r, s] = ['r', 's'] as RoundId[] as [RoundId, RoundId]
  const both = (more: Partial<CountedRound>): Rules => ({
    ...rules(),
    rounds: new Map([
      [r, roundOf({ primary: done.id })],
      [s, roundOf({ id: s, parts: new Set(['foot' as NodeId]), ...more })],
    ]),
  })
  const given = happened(1, { kind: 'assigned', round: 's', version: 'bold' })
  const events = [page(0), given, seen(2), page(3, 'done'), order(4, 'a', 9)]
  const inBoth = (by: Rules, of = events) => row(of, 'beside r 1 bold s bold', by)

  test('somebody is counted by what they had there, for the goal that decides', () => {
    expect(inBoth(both({}))).toEqual({ exposed: 1, converters: 1 })
    expect(inBoth(both({}), [page(0), given, seen(2), order(4, 'a', 9)])).toEqual({ exposed: 1 })
    expect(row(events, 'earlier r 1 done bold new', both({}))).toEqual({ exposed: 1, converters: 1 })
    expect(row(events, 'earlier r 1 bought bold new', both({}))).toEqual({ exposed: 1, converters: 1 })
  })

  test('not by what is over, what they have lost, or what they were given in more than eight others', () => {
    expect(inBoth(both({ open: [{ from: at(0), to: at(1) }] }))).toEqual({})
    const lost = happened(1.5, { kind: 'assigned', round: 's', version: 'original' })
    expect(inBoth(both({}), [page(0), given, lost, seen(2)])).toEqual({})
    const many = Array.from({ length: 10 }, (_, index) => `s-${index}` as RoundId)
    const by = { ...rules(), rounds: new Map([r, ...many].map((id) => [id, roundOf({ id })])) }
    const all = many.map((round) => happened(1, { kind: 'assigned', round, version: 'bold' }))
    const found = foldAll([page(0), ...all, seen(2)], by).sums.rows()
    expect(found.filter(({ book }) => book === 'beside')).toHaveLength(8)
  })
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
  const met = () => foldAll([page(0, 'home', { arrival }), seen(1), page(1000, 'done')]).after

  test('is as they were on their last visit', () => {
    expect(rememberedVisitor(met(), around)).toMatchObject({
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
    expect(rememberedVisitor(met(), { ...around, testOf: () => null })?.kept.size).toBe(0)
    const unsaid = rememberedVisitor(foldAll([page(0)]).after, around)
    expect(unsaid).toMatchObject({ beginning: { source: '' }, device: expect.any(String) as string })
  })
})
