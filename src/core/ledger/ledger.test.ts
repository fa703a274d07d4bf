import fc from 'fast-check'
import * as z from 'zod'
import { goalSchema, libraryOf, stepId, type Goal } from '../goals'
import type { VisitorEvent } from '../events'
import type { DocumentId, GoalId, NodeId, RoundId, VersionId } from '../ids'
import {
  books,
  countedRound,
  fold,
  isLate,
  keptVisitor,
  recount,
  speedClass,
  nothingCounted,
  unknownVisitor,
  visitorSchema,
  type Sums,
  type Arrived,
  type CountedRound,
  type Known,
  type Rules,
  type SiteRules,
} from '.'

const [round, secondRound] = ['r-1', 'r-2'] as [RoundId, RoundId]
const [original, bold] = ['original', 'bold'] as [VersionId, VersionId]
const start = Date.parse('2026-03-02T08:00:00Z')
const at = (hours: number) => new Date(start + hours * 3_600_000)
const visitor = 'f'.repeat(32)

const goal = (id: string, wiring: object, more: object = {}): Goal => goalSchema.parse({ id, name: id, wiring, ...more })
const reserved = goal('reserved', { kind: 'page', document: 'confirmed' }, { worth: 3 })
const pressed = goal('pressed', { kind: 'click', document: 'home', node: 'hero' }, { counts: 'everyTime' })
const form = goal('form', { kind: 'form', document: 'home', node: 'ask' })
const bought = goal('bought', { kind: 'order' }, { worthFrom: 'reported', counts: 'everyTime' })
const boughtOnce = goal('bought-once', { kind: 'order' }, { worthFrom: 'reported' })
const way = goal('way', { kind: 'steps', goals: ['form', 'reserved'] }, { worth: 7 })
const ways = goal('ways', { kind: 'steps', goals: ['pressed', 'reserved'] }, { counts: 'everyTime' })
const sale = goal('sale', { kind: 'steps', goals: ['pressed', 'bought'] }, { worthFrom: 'reported' })
const library = [reserved, pressed, form, bought, boughtOnce, way, ways, sale]

const open = (goals: readonly Goal[], more: Partial<CountedRound> = {}): CountedRound =>
  countedRound({
    id: round,
    versions: [original, bold],
    goals,
    goalParts: library,
    parts: ['hero' as NodeId],
    open: [{ from: at(0), to: null }],
    ...more,
  })
const siteRules = (goals: readonly Goal[], since = new Date(0)): SiteRules => ({
  since,
  dayOf: (moment) => moment.toISOString().slice(0, 10),
  bounceSeconds: 5,
  goals,
  library: libraryOf(library),
})
const rules = (goals: readonly Goal[], more: Partial<CountedRound> = {}): Rules => ({
  site: [siteRules(goals)],
  rounds: new Map([[round, open(goals, more)]]),
  calls: new Map([['call-root' as NodeId, 'call' as DocumentId]]),
})

const assigned = (hours = 0): VisitorEvent => ({ visitor, at: at(hours), kind: 'assigned', round, version: bold })
const seen = (hours = 0, version = bold): VisitorEvent => ({ visitor, at: at(hours), kind: 'seen', round, version })
/** In a second test, that the same visitors are in. */
const alsoGiven = (hours: number, version = bold): VisitorEvent =>
  ({ ...assigned(hours), round: secondRound, version }) as VisitorEvent
const page = (document: string, hours: number, from: string | null = null): VisitorEvent => ({
  visitor,
  at: at(hours),
  kind: 'page',
  document: document as DocumentId,
  path: `/${document}`,
  pageType: 'Plain',
  arrival: from === null ? null : { source: from, device: 'phone', language: 'cy', region: 'XP-FE' },
})
const press = (hours: number, ...nodes: string[]): VisitorEvent => ({
  visitor,
  at: at(hours),
  kind: 'click',
  document: 'home' as DocumentId,
  nodes: nodes as NodeId[],
  markers: [],
})
const spotted = (hours: number, node: string, document = 'home'): VisitorEvent => ({
  ...{
    visitor,
    at: at(hours),
    kind: 'click',
    document: document as DocumentId,
    nodes: [node as NodeId],
    markers: [],
    spot: [3, 7],
  },
})
const measured = (hours: number, paint: number, document = 'home'): VisitorEvent => ({
  ...{ visitor, at: at(hours), kind: 'speed', document: document as DocumentId, paint, response: null, shift: 0.051 },
})
const sent = (hours: number): VisitorEvent => ({
  visitor,
  at: at(hours),
  kind: 'form',
  document: 'home' as DocumentId,
  nodes: ['ask' as NodeId],
})
const order = (number: string, value: number, hours: number): VisitorEvent => ({
  visitor,
  at: at(hours),
  kind: 'order',
  order: number,
  value,
})
const shown = (call: string, hours: number): VisitorEvent => ({
  visitor,
  at: at(hours),
  kind: 'call',
  document: 'home' as DocumentId,
  call: call as DocumentId,
})

const inTurn = (events: readonly VisitorEvent[]): Arrived[] => events.map((event, seq) => ({ event, seq }))
const bySum = (sums: Sums) =>
  Object.fromEntries(
    sums
      .rows()
      .map(({ book, key, sums: values }) => [
        `${book} ${key.join(' ')}`,
        Object.fromEntries(books[book].sums.map((name, index) => [name, Math.round((values[index] ?? 0) * 1e6) / 1e6])),
      ]),
  )
/** The sums of a book, over all days. */
function counted(events: readonly VisitorEvent[], by: Rules, key: string): Record<string, number> {
  const all = Object.entries(bySum(fold(unknownVisitor(), inTurn(events), by, 'everything').sums))
  const total: Record<string, number> = {}
  for (const [, sums] of all.filter(([name]) => name.replace(/ \d{4}-\d\d-\d\d/, '') === key))
    for (const [sum, value] of Object.entries(sums)) total[sum] = (total[sum] ?? 0) + value
  return total
}
const inTest = (id: string, epoch = 1) => `tests ${round} ${epoch} ${id} ${bold}`

describe('in a test, a conversion', () => {
  test('counts after exposure, for the version that was shown', () => {
    const events = [assigned(), seen(), page('confirmed', 1)]
    expect(counted(events, rules([reserved]), inTest(''))).toMatchObject({ assigned: 1, exposed: 1 })
    expect(counted(events, rules([reserved]), inTest('reserved'))).toMatchObject({ converters: 1, worth: 3, worthSquared: 9 })
  })

  test.each<[string, VisitorEvent[], Partial<CountedRound>]>([
    ['without exposure', [assigned(), page('confirmed', 1)], {}],
    ['before exposure', [assigned(), page('confirmed', 0), seen(1)], {}],
    ['after the goal’s days', [seen(), page('confirmed', 14 * 24 + 1)], {}],
    ['after the end of the round', [seen(), page('confirmed', 3)], { open: [{ from: at(0), to: at(2) }] }],
    [
      'during a pause',
      [seen(), page('confirmed', 3)],
      {
        open: [
          { from: at(0), to: at(2) },
          { from: at(4), to: null },
        ],
      },
    ],
    ['for a version that the round does not have', [seen(0, 'made-up' as VersionId), page('confirmed', 1)], {}],
    ['where another version was seen than assigned', [assigned(), seen(1, original), page('confirmed', 2)], {}],
    ['of another round', [{ ...seen(), round: 'r-2' as RoundId } as VisitorEvent, page('confirmed', 1)], {}],
  ])('does not count %s', (_, events, more) => {
    expect(counted(events, rules([reserved], more), inTest('reserved')).converters ?? 0).toBe(0)
  })

  test('counts once, or every time with the worth added up', () => {
    const events = [seen(), press(1, 'hero'), press(2, 'button', 'hero'), page('confirmed', 3), page('confirmed', 4)]
    expect(counted(events, rules(library), inTest('reserved'))).toMatchObject({ converters: 1, conversions: 1, worth: 3 })
    expect(counted(events, rules(library), inTest('pressed'))).toMatchObject({ converters: 1, conversions: 2, worthSquared: 4 })
  })

  test('by a press on the varying part is exposure too, at that moment', () => {
    const events = [assigned(), press(0.0001, 'button', 'hero')]
    expect(counted(events, rules([pressed]), inTest(''))).toMatchObject({ exposed: 1 })
    expect(counted(events, rules([pressed]), inTest('pressed'))).toMatchObject({ converters: 1 })
    expect(counted([press(1, 'hero')], rules([pressed]), inTest(''))).toEqual({})
    expect(counted([assigned(), press(1, 'foot')], rules([pressed]), inTest('')).exposed).toBe(0)
  })
})

describe('what those do who take part is counted whether a goal asks for it or not', () => {
  const did = (doing: string, what: string, version = bold) => `doings ${round} ${version} home ${doing} ${what}`
  const given: VisitorEvent = { ...assigned(0.0001), kind: 'assigned', round, version: bold, document: 'home' as DocumentId }
  const came = [page('home', 0, 'search'), given, seen(0.001)]
  const counts = (events: VisitorEvent[], key: string, more: Partial<CountedRound> = {}) => counted(events, rules([], more), key)

  test('one look and no more, or where they went from there, once and in that visit', () => {
    expect(counts(came, did('visit', ''))).toEqual({ times: 1, visitors: 1 })
    expect(counts(came, did('stayed', ''))).toEqual({})
    const on = [...came, page('plans', 0.1), page('about', 0.2), page('plans', 60, 'letter')]
    expect(counts(on, did('stayed', ''))).toEqual({ times: 1, visitors: 1 })
    expect([counts(on, did('next', 'plans')), counts(on, did('next', 'about'))]).toEqual([{ times: 1, visitors: 1 }, {}])
  })

  test('what is pressed on that page, and where in it, of components that the site shows', () => {
    const pressing = [...came, spotted(0.1, 'menu'), spotted(0.2, 'menu'), press(0.3, 'go'), spotted(0.4, 'menu', 'plans')]
    expect(counts(pressing, did('pressed', 'menu'))).toEqual({ times: 2, visitors: 1 })
    expect(counts(pressing, did('spot', 'menu 37 phone'))).toEqual({ times: 2, visitors: 0 })
    expect(counts(pressing, did('pressed', 'go'))).toEqual({})
  })

  test('that the part was read, and no other', () => {
    const read = (node: string): VisitorEvent => ({
      visitor,
      at: at(0.2),
      kind: 'read',
      document: 'home' as DocumentId,
      node: node as NodeId,
    })
    expect(counts([...came, read('hero'), read('hero'), read('foot')], did('read', 'hero'))).toEqual({ times: 1, visitors: 1 })
    expect(counts([...came, read('foot')], did('read', 'foot'))).toEqual({})
  })

  test('how fast their first page with it was, though they never saw the part, and no later one', () => {
    const slow = [page('home', 0, 'search'), given, measured(0.01, 2500), measured(0.5, 900)]
    expect(counts(slow, did('paint', String(speedClass('paint', 2500))))).toEqual({ times: 1, visitors: 1 })
    expect(counts(slow, did('shift', '5'))).toEqual({ times: 1, visitors: 1 })
    expect(counts(slow, did('paint', String(speedClass('paint', 900))))).toEqual({})
    expect(counts([page('home', 0, 'search'), given, measured(0.01, 2500, 'plans')], did('shift', '5'))).toEqual({})
  })

  test('after how many days of 24 hours a goal was first reached, and not how often', () => {
    const reached = [...came, page('confirmed', 25), page('confirmed', 80)]
    expect(counted(reached, rules([reserved]), did('after', 'reserved 1'))).toEqual({ times: 1, visitors: 1 })
    expect(counted(reached, rules([reserved]), did('after', 'reserved 3'))).toEqual({})
  })

  test('nothing while the round is held up', () => {
    const held = { open: [{ from: at(0), to: at(0.05) }] }
    expect(counts([...came, spotted(0.1, 'menu'), page('plans', 0.2)], did('pressed', 'menu'), held)).toEqual({})
  })
})

describe('what a test counts is divided', () => {
  const cameBack = [page('home', 0, 'search'), seen(0.01), page('home', 30, 'letter'), page('confirmed', 30.1)]
  const within = (id: string, trait: string, value: string) => `segments ${round} 1 ${id} ${bold} ${trait} ${value}`

  test('by what was known of a visitor at their first exposure, whatever they come with later', () => {
    for (const [trait, value] of [
      ['device', 'phone'],
      ['source', 'search'],
      ['region', 'XP-FE'],
      ['language', 'cy'],
      ['returning', 'new'],
    ] as const) {
      expect(counted(cameBack, rules([reserved]), within('', trait, value))).toMatchObject({ exposed: 1 })
      const brought = { converters: 1, worth: 3, visits: 2, visitsWorth: 6 }
      expect(counted(cameBack, rules([reserved]), within('reserved', trait, value))).toMatchObject(brought)
    }
    expect(counted(cameBack, rules([reserved]), within('reserved', 'source', 'letter'))).toEqual({})
  })

  test('into those who came for the first time and those who came back', () => {
    const [first, , again] = cameBack
    const late = [first, again, seen(30.01)].filter((event) => event !== undefined)
    expect(counted(late, rules([reserved]), within('', 'returning', 'returning'))).toMatchObject({ exposed: 1 })
    expect(counted(late, rules([reserved]), within('', 'source', 'letter'))).toMatchObject({ exposed: 1 })
  })

  test('by the segments that fitted when they were given their version, of whom that was written down', () => {
    const [phones, near] = ['0123456789abcdef+', 'fedcba9876543210-']
    const given: VisitorEvent = { ...assigned(), kind: 'assigned', round, version: bold, segments: [phones, near] }
    const came = [page('home', 0, 'search'), given, seen(0.01), page('confirmed', 1)]
    for (const value of [phones, near]) {
      expect(counted(came, rules([reserved]), within('', 'segment', value))).toMatchObject({ exposed: 1 })
      expect(counted(came, rules([reserved]), within('reserved', 'segment', value))).toMatchObject({ converters: 1, worth: 3 })
    }
    // Given the same again with other segments, they stay who they were.
    const again: VisitorEvent = { ...given, at: at(0.5), segments: ['aaaaaaaaaaaaaaaa+'] }
    expect(counted([...came, again], rules([reserved]), within('', 'segment', 'aaaaaaaaaaaaaaaa+'))).toEqual({})
  })

  test('by what they had done before they first saw it, for each goal by itself', () => {
    const earlier = (id: string, past: string) => `earlier ${round} 1 ${id} ${bold} ${past}`
    const both = rules([reserved, form])
    const came = [page('home', 0, 'x'), page('confirmed', 0.1), page('home', 30, 'x'), seen(30.1), page('confirmed', 31)]
    expect(counted(came, both, earlier('reserved', 'reached'))).toEqual({ exposed: 1, converters: 1 })
    expect(counted(came, both, earlier('form', 'looked'))).toEqual({ exposed: 1, converters: 0 })
    const [first, ...rest] = came
    const stranger = [...(first === undefined ? [] : [first]), seen(0.05), ...rest]
    expect(counted(stranger, both, earlier('reserved', 'new'))).toEqual({ exposed: 1, converters: 1 })
    expect(counted(stranger, both, earlier('reserved', 'reached'))).toEqual({})
  })

  test('by the version of another test that they had then, for the goal that decides', () => {
    const by: Rules = {
      ...rules([reserved, form], { primary: reserved.id }),
      rounds: new Map([
        [round, open([reserved, form], { primary: reserved.id })],
        [secondRound, open([form], { id: secondRound, open: [{ from: at(0), to: at(10) }] })],
      ]),
    }
    const beside = (shown: string) => `beside ${round} 1 ${bold} ${secondRound} ${shown}`
    const both = [alsoGiven(0, original), seen(1), sent(2), page('confirmed', 3)]
    expect(counted(both, by, beside('original'))).toEqual({ exposed: 1, converters: 1 })
    // What was given later, or in a test that had ended, is of nobody at that moment.
    expect(counted([seen(1), alsoGiven(2), page('confirmed', 3)], by, beside('bold'))).toEqual({})
    expect(counted([alsoGiven(9), seen(11)], by, beside('bold'))).toEqual({})
    // Counted from the other side as well: who had which version of this one.
    expect(
      counted(
        [assigned(0), alsoGiven(1), { ...alsoGiven(2), kind: 'seen' } as VisitorEvent],
        by,
        `beside ${secondRound} 1 ${bold} ${round} ${bold}`,
      ),
    ).toMatchObject({ exposed: 1 })
  })

  test('by nothing where nothing is known, and by an unlucky name as by any other', () => {
    expect(Object.keys(bySum(fold(unknownVisitor(), inTurn([seen()]), rules([reserved]), 'tests').sums))).toEqual([
      expect.stringMatching(/^tests/),
      expect.stringMatching(/^tests/),
    ])
    expect(counted([page('home', 0, '__proto__'), seen(0.01)], rules([]), within('', 'source', '__proto__'))).toMatchObject({
      exposed: 1,
    })
  })

  test('by the epoch in which a visitor was drawn, for good', () => {
    const by = rules([reserved], { reweighed: [at(2), at(5)] })
    const events = [assigned(1), seen(3), page('confirmed', 6)]
    expect(counted(events, by, inTest('reserved', 1))).toMatchObject({ converters: 1 })
    expect(counted([seen(2), page('confirmed', 6)], by, inTest('reserved', 2))).toMatchObject({ converters: 1 })
    expect(counted([assigned(9)], by, inTest('', 3))).toMatchObject({ assigned: 1 })
  })

  describe('where a version is not kept', () => {
    const again = (hours: number, version = original): VisitorEvent => ({ ...assigned(hours), version }) as VisitorEvent
    const of = (keeping: 'browser' | 'visit' | 'view') => rules([reserved], { keeping })
    const twice = [
      assigned(0),
      page('home', 0.01),
      seen(0.02),
      page('confirmed', 0.1),
      again(5),
      page('home', 5.01),
      seen(5.02, original),
    ]

    test('each visit counts by itself, and what it brings is its own version’s', () => {
      const history = [...twice, page('confirmed', 5.1)]
      expect(counted(history, of('browser'), inTest('reserved'))).toMatchObject({ converters: 1 })
      const inOriginal = inTest('reserved').replace('bold', 'original')
      expect(counted(history, of('visit'), inOriginal)).toMatchObject({ converters: 1 })
      expect(counted(history, of('visit'), inTest('reserved'))).toMatchObject({ converters: 1 })
      expect(counted(history, of('visit'), inTest('').replace('bold', 'original'))).toMatchObject({ assigned: 1, exposed: 1 })
    })

    test('the same visit is not counted twice, however often it is given its version; a view is', () => {
      const history = [assigned(0), page('home', 0.01), assigned(0.2), assigned(0.4)]
      expect(counted(history, of('visit'), inTest(''))).toMatchObject({ assigned: 1 })
      expect(counted(history, of('view'), inTest(''))).toMatchObject({ assigned: 3 })
    })
  })

  test('to a version that is switched off nothing more is credited once its visitors have another', () => {
    const again = { ...assigned(2), version: 'another' as VersionId } as VisitorEvent
    const by = rules([reserved], { versions: ['original', 'bold', 'another'] as VersionId[] })
    expect(counted([seen(), page('confirmed', 1), again], by, inTest('reserved'))).toMatchObject({ converters: 1 })
    expect(counted([seen(), again, page('confirmed', 3)], by, inTest('reserved'))).not.toHaveProperty('converters', 1)
  })
})

describe('a funnel', () => {
  test('passes one step an event, in their order, and is reached with the last', () => {
    const through = [seen(), sent(1), page('confirmed', 2), page('confirmed', 3)]
    const step = (index: number) => counted(through, rules([way]), inTest(stepId(way.id, index)))
    expect([step(1).converters, step(2).converters]).toEqual([1, 1])
    expect(counted(through, rules([way]), inTest('way'))).toMatchObject({ converters: 1, conversions: 1, worth: 7 })
    expect(counted([seen(), page('confirmed', 1), sent(2)], rules([way]), inTest('way'))).not.toHaveProperty('converters', 1)
  })

  test('that counts every time begins anew', () => {
    const twice = [seen(), press(1, 'hero'), page('confirmed', 2), press(3, 'hero'), page('confirmed', 4)]
    expect(counted(twice, rules([ways]), inTest('ways'))).toMatchObject({ converters: 1, conversions: 2 })
  })

  test('takes the worth of the order that ends it, everywhere, and gives it back with a refund', () => {
    const events = [seen(), press(0.1, 'call-root'), press(1, 'hero'), order('a', 30, 2), order('a', -10, 3)]
    expect(counted(events, rules([sale]), inTest('sale'))).toMatchObject({ converters: 1, worth: 20 })
    expect(counted(events, rules([sale]), 'site g:sale')).toMatchObject({ times: 1, worth: 20 })
    expect(counted(events, rules([sale]), 'calls call home page')).toMatchObject({ submissions: 1, worth: 20 })
  })
})

describe('a refund', () => {
  test.each<[string, VisitorEvent[], number]>([
    ['takes back what it says', [order('a', 30, 1), order('b', 12, 2), order('a', -30, 99)], 12],
    ['takes back no more than is left', [order('a', 30, 1), order('a', -20, 2), order('a', -20, 3)], 0],
    ['dated before its order waits for it', [order('a', -30, 1), order('a', 30, 2)], 0],
    ['of an order that is not known changes nothing', [order('a', 30, 1), order('b', -30, 2)], 30],
    ['of an order named like a property of objects is one', [order('constructor', 5, 1), order('__proto__', -5, 2)], 5],
  ])('%s', (_, events, left) => {
    for (const key of [inTest('bought'), 'site g:bought'])
      expect(counted([seen(), ...events], rules([bought]), key).worth ?? 0).toBe(left)
  })

  test('counts after the end of the round, and not as a conversion', () => {
    const ended = { open: [{ from: at(0), to: at(2) }] }
    const events = [seen(), order('a', 30, 1), order('a', -30, 99)]
    expect(counted(events, rules([bought], ended), inTest('bought'))).toMatchObject({ conversions: 1, worth: 0, worthSquared: 0 })
  })

  test('of an order that was not counted takes nothing', () => {
    const events = [seen(), order('a', 10, 1), order('b', 99, 2), order('b', -99, 3)]
    expect(counted(events, rules([boughtOnce]), inTest('bought-once'))).toMatchObject({ converters: 1, worth: 10 })
  })
})

describe('visits', () => {
  test('are one for as long as there is no half hour of silence, however often a page is loaded', () => {
    const loads = [0, 0.1, 0.2, 0.3].map((hours) => page('home', hours, 'search'))
    expect(counted(loads, rules([]), 'site v:*')).toMatchObject({ times: 1, visitors: 1 })
    expect(counted(loads, rules([]), 'site from:search')).toMatchObject({ times: 1 })
    expect(counted(loads, rules([]), 'site e:*')).toEqual({})
    const later = [...loads, page('home', 0.81, 'search'), page('plans', 0.9)]
    expect(counted(later, rules([]), 'site v:*')).toMatchObject({ times: 2, visitors: 1 })
    expect(counted(later, rules([]), 'site e:*')).toMatchObject({ times: 1 })
    expect([counted(later, rules([]), 'site l:home').times, counted(later, rules([]), 'site l:plans').times]).toEqual([1, 1])
  })

  test('share out worth within the days of the goal, the first exposure’s included', () => {
    const short = { ...bought, withinDays: 2 }
    const events = [
      page('home', 0, 'search'),
      seen(0.01),
      order('a', 10, 1),
      page('home', 2, 'search'),
      page('home', 24, 'search'),
      page('home', 99, 'search'),
    ]
    expect(counted(events, rules([short]), inTest('bought'))).toMatchObject({ visits: 3, visitsSquared: 9, visitsWorth: 30 })
  })
})

describe('a call to action', () => {
  test('is credited once for each goal, within fourteen days of the last press', () => {
    const events = [shown('call', 0), press(0, 'call-root'), page('confirmed', 1), page('confirmed', 2)]
    expect(counted(events, rules(library), 'calls call home page')).toEqual({ views: 1, clicks: 1, submissions: 1, worth: 3 })
    const late = [press(0, 'call-root'), page('confirmed', 14 * 24 + 1)]
    expect(counted(late, rules(library), 'calls call home page')).toMatchObject({ submissions: 0 })
  })

  test('is credited with a funnel that it began', () => {
    const events = [press(0, 'call-root'), sent(1), page('confirmed', 2)]
    expect(counted(events, rules([way]), 'calls call home page')).toMatchObject({ submissions: 1, worth: 7 })
  })
})

test('a goal counts as it was when something happened, by the day of that time', () => {
  const by = { ...rules([]), site: [siteRules([]), siteRules([reserved], at(2)), siteRules([], at(4))] }
  const events = [page('confirmed', 1), page('confirmed', 3), page('confirmed', 5)]
  expect(counted(events, by, 'site g:reserved')).toMatchObject({ times: 1 })
})

describe('whatever the order in which events arrive', () => {
  const moments = fc.integer({ min: 0, max: 40 }).map((quarters) => quarters * 6)
  const someEvent = fc.oneof(
    moments.map((hours) => assigned(hours)),
    moments.map((hours) => alsoGiven(hours)),
    moments.map((hours) => seen(hours)),
    moments.map((hours) => seen(hours, original)),
    fc.tuple(fc.constantFrom('home', 'confirmed'), moments).map(([document, hours]) => page(document, hours, 'search')),
    fc.tuple(fc.constantFrom('hero', 'call-root', 'foot'), moments).map(([node, hours]) => press(hours, node)),
    fc.tuple(fc.constantFrom('hero', 'menu'), moments).map(([node, hours]) => spotted(hours, node)),
    fc.tuple(fc.constantFrom(900, 2500), moments).map(([paint, hours]) => measured(hours, paint)),
    moments.map((hours) => sent(hours)),
    fc
      .tuple(fc.constantFrom('a', 'b', 'constructor'), fc.constantFrom(30, 12.5, -10, -30), moments)
      .map(([number, value, hours]) => order(number, value, hours)),
    moments.map((hours) => shown('call', hours)),
  )
  const one = rules(library, {
    primary: reserved.id,
    open: [
      { from: at(6), to: at(90) },
      { from: at(120), to: at(200) },
    ],
    reweighed: [at(60)],
  })
  const by: Rules = { ...one, rounds: new Map([...one.rounds, [secondRound, open([form], { id: secondRound })]]) }
  const histories = fc.array(someEvent, { minLength: 1, maxLength: 25 }).chain((events) => {
    const arrived = inTurn(events)
    return fc.record({
      arrived: fc.constant(arrived),
      order: fc.shuffledSubarray(arrived, { minLength: arrived.length, maxLength: arrived.length }),
      cuts: fc.array(fc.integer({ min: 1, max: 8 }), { minLength: 25, maxLength: 25 }),
    })
  })

  test('and wherever batches end, the rows are those of the events in their order', () => {
    fc.assert(
      fc.property(histories, ({ arrived, order: inSomeOrder, cuts }) => {
        // By themselves: what is held against each other must not come out of the same function.
        const inBatches = nothingCounted()
        const inOneGo = fold(unknownVisitor(), recountOrder(arrived), by, 'everything')
        let known: Known | null = null
        const done: Arrived[] = []
        for (let from = 0, batch = 0; from < inSomeOrder.length; batch++) {
          const fresh = inSomeOrder.slice(from, (from += cuts[batch] ?? 1))
          const history = { base: unknownVisitor(), counted: recountOrder(done) }
          const now: Known = recount(known, fresh, isLate(known, fresh) ? history : null, by, 'everything', inBatches)
          // What is kept of a visitor is read again before the next batch.
          known = { ...now, state: visitorSchema.decode(JSON.parse(keptVisitor(now.state))) }
          done.push(...fresh)
        }
        const { sums } = inBatches
        expect(bySum(sums)).toEqual(bySum(inOneGo.sums))
        // Whoever is known to have come on a device is in the whole and in its rows, with the same.
        for (const [key, values] of Object.entries(bySum(sums)).filter(([name]) => name.includes(' device phone')))
          expect(bySum(sums)[key.replace('segments', 'tests').replace(' device phone', '')]).toMatchObject(values)
        expect(known?.state).toEqual(inOneGo.after)
        const newest = recountOrder(arrived).at(-1)
        expect(known?.last).toEqual({ at: newest?.event.at, seq: newest?.seq })
      }),
      { numRuns: 600 },
    )
  })

  const recountOrder = (events: readonly Arrived[]) =>
    [...events].sort((one, other) => one.event.at.getTime() - other.event.at.getTime() || one.seq - other.seq)
})

test('a visitor is kept and read back whole, whatever the shop calls its orders', () => {
  const awkward = ['__proto__', 'constructor', 'with "quotes" and \\', 'two\nlines', 'half \ud83d of one', '', 'n'.repeat(200)]
  const orders = awkward.map((number, at) => order(number, 30 + at, 2 + at / 100))
  const events = [seen(), press(0.1, 'call-root'), sent(1), ...orders, order('gone', -3, 3), page('home', 4, 'x')]
  const { after } = fold(unknownVisitor(), inTurn(events), rules(library), 'everything')
  expect(JSON.parse(keptVisitor(after))).toEqual(JSON.parse(JSON.stringify(z.encode(visitorSchema, after))))
  expect(visitorSchema.decode(JSON.parse(keptVisitor(after)))).toEqual(after)
  expect(after.enrolments.get(round)?.version).toBe(bold)
  expect(after.progress.reached.has('bought' as GoalId)).toBe(true)
  const endless = fold(unknownVisitor(), inTurn([seen(), order('7', Infinity, 1)]), rules(library), 'everything').after
  expect(() => keptVisitor(endless)).toThrow('a number that is none')
})
