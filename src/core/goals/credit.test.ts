import type { DocumentId, GoalId, NodeId, RoundId, VersionId } from '../ids'
import {
  countedRound,
  credit,
  enrolmentAfter,
  goalSchema,
  libraryOf,
  partsFault,
  reaches,
  stepId,
  withParts,
  type Change,
  type CountedRound,
  type Enrolment,
  type Goal,
  type Happening,
  type VisitorEvent,
  type Wiring,
} from '.'

const round = 'r-1' as RoundId
const bold = 'bold' as VersionId
const start = new Date('2026-03-02T08:00:00Z')
const after = (hours: number) => new Date(start.getTime() + hours * 3_600_000)
const reserved = goalSchema.parse({ id: 'reserved', name: 'Reserved', wiring: { kind: 'page', document: 'confirmed' }, worth: 3 })
const pressed = goalSchema.parse({
  id: 'pressed',
  name: 'Pressed',
  wiring: { kind: 'click', document: 'home', node: 'hero' },
  counts: 'everyTime',
})
const open = countedRound({
  id: round,
  versions: ['original' as VersionId, bold],
  goals: [reserved, pressed],
  startedAt: start,
  endedAt: null,
})

const visitor = 'f'.repeat(32)
const assigned = (at = start): VersionEvent => ({ visitor, at, kind: 'assigned', round, version: bold })
const seen = (at = start, version = bold): VersionEvent => ({ visitor, at, kind: 'seen', round, version })
const confirmation = (at: Date): VisitorEvent => page('confirmed', at)
const page = (document: string, at = after(1), more: object = {}): VisitorEvent => ({
  visitor,
  at,
  kind: 'page',
  document: document as DocumentId,
  path: `/${document}`,
  pageType: 'Plain',
  arrival: null,
  ...more,
})
const press = (at: Date): VisitorEvent => ({
  visitor,
  at,
  kind: 'click',
  document: 'home' as DocumentId,
  nodes: ['button', 'hero'] as NodeId[],
  markers: [],
})
type VersionEvent = Extract<VisitorEvent, { kind: 'assigned' | 'seen' }>

/** Runs one visitor's events in order and returns all changes. */
function count(events: VisitorEvent[], rounds: CountedRound[] = [open]): Change[] {
  const enrolled = new Map<RoundId, Enrolment>()
  return events.flatMap((event) => {
    const changes = credit(event, rounds, enrolled)
    for (const change of changes) enrolled.set(change.round, enrolmentAfter(enrolled.get(change.round), change))
    return changes
  })
}
const kinds = (events: VisitorEvent[], rounds?: CountedRound[]) => count(events, rounds).map(({ kind }) => kind)

describe('a conversion', () => {
  test('counts after exposure, for the version that was shown', () => {
    const changes = count([assigned(), seen(), confirmation(after(1))])
    expect(changes.map(({ kind, version }) => [kind, version])).toEqual([
      ['assigned', bold],
      ['exposed', bold],
      ['converted', bold],
    ])
    expect(changes[2]).toMatchObject({ goal: 'reserved', first: true, worthBefore: 0, worthAfter: 3 })
  })

  test.each<[string, VisitorEvent[]]>([
    ['without exposure', [assigned(), confirmation(after(1))]],
    ['before exposure', [assigned(), confirmation(start), seen(after(1))]],
    ['after the goal’s days', [assigned(), seen(), confirmation(after(14 * 24 + 1))]],
    ['for a page that no goal names', [assigned(), seen(), page('about')]],
  ])('does not count %s', (_, events) => {
    expect(kinds(events)).not.toContain('converted')
  })

  test('counts once per visitor where the goal says so, else every time with the worth added up', () => {
    expect(kinds([seen(), confirmation(after(1)), confirmation(after(2))]).filter((kind) => kind === 'converted')).toHaveLength(1)
    const presses = count([seen(), press(after(1)), press(after(2))]).filter((change) => change.kind === 'converted')
    expect(presses).toMatchObject([
      { first: true, worthAfter: 1 },
      { first: false, worthBefore: 1, worthAfter: 2 },
    ])
  })

  test('a press on something inside the wired component counts for it', () => {
    expect(kinds([seen(), press(after(1))])).toContain('converted')
  })

  test('does not count once the round has ended', () => {
    expect(kinds([seen(), confirmation(after(3))], [{ ...open, endedAt: after(2) }])).not.toContain('converted')
  })
})

describe('an exposure', () => {
  test('counts once, and stands for a lost note of the assignment', () => {
    expect(kinds([seen(), seen(after(1)), assigned(after(2))])).toEqual(['assigned', 'exposed'])
  })

  test('of another version than the assigned one is not believed', () => {
    expect(kinds([assigned(), seen(after(1), 'original' as VersionId)])).toEqual(['assigned'])
  })

  test('of a version the round does not have is not believed', () => {
    expect(kinds([seen(start, 'made-up' as VersionId)])).toEqual([])
  })
})

describe('what reaches a goal', () => {
  const home = 'home' as DocumentId
  const happened = (event: Happening): VisitorEvent => ({ visitor, at: after(1), ...event })
  const pressOn = (markers: string[]) => happened({ kind: 'click', document: home, nodes: [], markers })
  const gone = (address: string) => happened({ kind: 'outbound', document: home, address })
  const stayed = (seconds: number) => happened({ kind: 'stay', document: home, seconds })
  const arrived = page('home', after(1), { arrival: { source: 'search', device: 'phone' } })
  const form = happened({ kind: 'form', document: home, nodes: ['trial' as NodeId] })
  const read = happened({ kind: 'read', document: home, node: 'story' as NodeId })
  const order = happened({ kind: 'order', order: 'P-1', value: 30 })
  const back = happened({ kind: 'order', order: 'P-1', value: -30 })
  const named = happened({ kind: 'event', name: 'tuned', value: null })
  test.each<[object, VisitorEvent, boolean]>([
    [{ kind: 'marker', marker: 'reserve' }, pressOn(['other', 'reserve']), true],
    [{ kind: 'marker', marker: 'reserve' }, pressOn([]), false],
    [{ kind: 'form', document: 'home', node: 'trial' }, form, true],
    [{ kind: 'form', document: 'home', node: 'other' }, form, false],
    [{ kind: 'pageType', pageType: 'Plain' }, page('plans'), true],
    [{ kind: 'pageType', pageType: 'Article' }, page('plans'), false],
    [{ kind: 'address', by: 'is', text: '/plans' }, page('plans'), true],
    [{ kind: 'address', by: 'is', text: '/plan' }, page('plans'), false],
    [{ kind: 'address', by: 'startsWith', text: '/pl' }, page('plans'), true],
    [{ kind: 'address', by: 'contains', text: 'lan' }, page('plans'), true],
    [{ kind: 'outbound', by: 'host', text: 'example.org' }, gone('https://www.Example.org/a?b'), true],
    [{ kind: 'outbound', by: 'host', text: 'example.org' }, gone('https://notexample.org/'), false],
    [{ kind: 'outbound', by: 'startsWith', text: 'https://example.org/a' }, gone('https://example.org/ab'), true],
    [{ kind: 'read', document: 'home', node: 'story' }, read, true],
    [{ kind: 'stay', seconds: 30 }, stayed(30), true],
    [{ kind: 'stay', seconds: 31 }, stayed(30), false],
    [{ kind: 'noBounce', seconds: 5 }, arrived, false],
    [{ kind: 'noBounce', seconds: 5 }, stayed(4), false],
    [{ kind: 'noBounce', seconds: 5 }, stayed(5), true],
    [{ kind: 'noBounce', seconds: 5 }, page('plans'), true],
    [{ kind: 'noBounce', seconds: 5 }, pressOn([]), true],
    [{ kind: 'order' }, order, true],
    [{ kind: 'order' }, back, false],
    [{ kind: 'event', event: 'tuned' }, named, true],
    [{ kind: 'event', event: 'tune' }, named, false],
    [{ kind: 'anyOf', goals: ['reserved', 'pressed'] }, confirmation(after(1)), true],
    [{ kind: 'anyOf', goals: ['reserved', 'pressed'] }, form, false],
  ])('%j', (wiring, event, expected) => {
    const goal = goalSchema.parse({ id: 'g', name: 'G', wiring })
    expect(reaches(goal, event, libraryOf([reserved, pressed, goal]))).toBe(expected)
  })
})

describe('a funnel', () => {
  const plans = goalSchema.parse({ id: 'plans', name: 'Plans', wiring: { kind: 'page', document: 'plans' } })
  const funnel = goalSchema.parse({
    id: 'way',
    name: 'The way',
    wiring: { kind: 'steps', goals: ['pressed', 'plans', 'reserved'] },
    worth: 7,
  })
  const round = countedRound({ ...open, goals: [funnel], parts: [plans, reserved, pressed] })
  const passed = (events: VisitorEvent[]) =>
    count([seen(), ...events], [round]).flatMap((change) => (change.kind === 'converted' ? [change.goal] : []))

  test('counts each step in its order, and itself with the last one', () => {
    expect(passed([press(after(1)), page('plans'), confirmation(after(2))])).toEqual([
      stepId(funnel.id, 1),
      stepId(funnel.id, 2),
      stepId(funnel.id, 3),
      funnel.id,
    ])
  })

  test('a step out of order does not count', () => {
    expect(passed([confirmation(after(1)), press(after(2)), confirmation(after(3))])).toEqual([stepId(funnel.id, 1)])
  })

  test('its worth is counted once, with the last step', () => {
    const changes = count([seen(), press(after(1)), page('plans'), confirmation(after(2)), confirmation(after(3))], [round])
    expect(changes.flatMap((change) => (change.kind === 'converted' ? [change.worthAfter] : []))).toEqual([0, 0, 0, 7])
  })
})

describe('an order', () => {
  const bought = (counts: Goal['counts']) =>
    countedRound({
      ...open,
      endedAt: after(48),
      goals: [goalSchema.parse({ id: 'bought', name: 'B', wiring: { kind: 'order' }, worthFrom: 'reported', counts })],
    })
  const order = (number: string, value: number, at: Date): VisitorEvent => ({ visitor, at, kind: 'order', order: number, value })
  const worths = (events: VisitorEvent[], counts: Goal['counts'] = 'everyTime') =>
    count([seen(), ...events], [bought(counts)]).flatMap((change) =>
      change.kind === 'converted' ? [[change.times, change.worthAfter]] : [],
    )

  test('brings its own worth, and a refund takes it back without being a conversion, even after the end', () => {
    expect(worths([order('a', 30, after(1)), order('b', 12, after(2)), order('a', -30, after(99))])).toEqual([
      [1, 30],
      [1, 42],
      [0, 12],
    ])
  })

  test('that was not counted is not refunded', () => {
    expect(worths([order('a', 30, after(1)), order('b', 12, after(2)), order('b', -12, after(3))], 'once')).toEqual([[1, 30]])
  })

  test('before exposure or after the round does not count, whenever it is reported', () => {
    expect(worths([order('a', 30, new Date(start.getTime() - 1)), order('b', 3, after(49))])).toEqual([])
  })
})

describe('a goal made of others', () => {
  const goal = (id: string, wiring: Wiring): Goal => goalSchema.parse({ id, name: id, wiring })
  const either = goal('either', { kind: 'anyOf', goals: [reserved.id, pressed.id] })
  const way = goal('way', { kind: 'steps', goals: [pressed.id, either.id] })
  const library = libraryOf([reserved, pressed, either, way])

  test('brings all that it is made of, each once', () => {
    expect(withParts([way.id], library).map(({ id }) => id)).toEqual(['way', 'pressed', 'either', 'reserved'])
  })

  test('cannot hold itself, a funnel, or what is gone', () => {
    const changed = goal('either', { kind: 'anyOf', goals: [reserved.id, either.id] })
    expect(partsFault(changed, libraryOf([reserved, pressed, changed]))).toMatch('is made of this goal')
    expect(partsFault(goal('g', { kind: 'anyOf', goals: [way.id, reserved.id] }), library)).toMatch('is a funnel')
    expect(partsFault(goal('g', { kind: 'anyOf', goals: ['gone' as GoalId, reserved.id] }), library)).toMatch('is gone')
    expect(partsFault(way, library)).toBeNull()
  })
})

describe('visits', () => {
  const again = (at: Date) => page('home', at, { arrival: { source: 'direct', device: 'phone' } })
  const sold = goalSchema.parse({ id: 'sold', name: 'S', wiring: { kind: 'order' }, worthFrom: 'reported', counts: 'everyTime' })
  const round = countedRound({ ...open, goals: [sold] })
  const order = (number: string, value: number, at: Date): VisitorEvent => ({ visitor, at, kind: 'order', order: number, value })
  /** What a visitor's visits times their worth come to, from the changes alone. */
  const product = (events: VisitorEvent[]) =>
    count([seen(), ...events], [round]).reduce(
      (sum, change) =>
        change.kind === 'cameAgain'
          ? sum + change.worth
          : change.kind === 'converted' && change.goal === sold.id
            ? sum + change.visits * (change.worthAfter - change.worthBefore)
            : sum,
      0,
    )

  test('count from the first exposure on, and go into the product of visits and worth in whatever order they come', () => {
    const events = [
      order('a', 30, after(1)),
      again(after(2)),
      order('b', 12, after(3)),
      again(after(4)),
      order('a', -10, after(5)),
    ]
    expect(product(events)).toBe(3 * (30 + 12 - 10))
    expect(product([again(after(1)), again(after(2)), order('a', 5, after(3))])).toBe(3 * 5)
    expect(product([order('a', 5, after(1))])).toBe(5)
  })

  test('add up to their number and the sum of their squares', () => {
    const visits = count([seen(), again(after(1)), again(after(2)), again(after(3))], [round]).flatMap((change) =>
      change.kind === 'converted' ? [change.worthAfter ** 2 - change.worthBefore ** 2] : [],
    )
    expect(visits).toEqual([1, 3, 5])
  })
})

test('a goal without worth, window or manner gets the usual ones', () => {
  expect(goalSchema.parse({ id: 'g', name: 'G', wiring: { kind: 'page', document: 'd' } })).toMatchObject({
    worth: 1,
    counts: 'once',
    withinDays: 14,
    id: 'g' as GoalId,
  })
})

test('goals that are made of each other, from before that was refused, count by their other parts and end', () => {
  const made = (id: string, goals: readonly string[]) => goalSchema.parse({ id, name: id, wiring: { kind: 'anyOf', goals } })
  const library = libraryOf([made('a', ['b', 'reserved']), made('b', ['a', 'pressed']), reserved, pressed])
  const shown: VisitorEvent = {
    visitor,
    at: start,
    kind: 'page',
    document: 'confirmed' as DocumentId,
    path: '',
    pageType: '',
    arrival: null,
  }
  const [a, b] = ['a', 'b'].map((id) => library.get(id as GoalId))
  expect([a, b].map((goal) => goal !== undefined && reaches(goal, shown, library))).toEqual([true, true])
  expect(a !== undefined && reaches(a, { ...shown, document: 'elsewhere' as DocumentId }, library)).toBe(false)
})
