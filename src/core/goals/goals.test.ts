import * as z from 'zod'
import type { Happening, VisitorEvent } from '../events'
import { goalKind, nothing } from './kinds/kind'
import type { DocumentId, GoalId, NodeId } from '../ids'
import { goalSchema, libraryOf, partsFault, reaches, withParts, type Goal, type Wiring } from '.'

const start = new Date('2026-03-02T08:00:00Z')
const after = (hours: number) => new Date(start.getTime() + hours * 3_600_000)
const visitor = 'f'.repeat(32)
const reserved = goalSchema.parse({ id: 'reserved', name: 'Reserved', wiring: { kind: 'page', document: 'confirmed' }, worth: 3 })
const pressed = goalSchema.parse({
  id: 'pressed',
  name: 'Pressed',
  wiring: { kind: 'click', document: 'home', node: 'hero' },
  counts: 'everyTime',
})
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

test('a kind of goal that forgets something, or that keeps something else than it reads, does not compile', () => {
  const schema = z.object({ kind: z.literal('hover'), seconds: z.number() })
  const whole = {
    label: 'Something is hovered over',
    words: () => '',
    reaches: () => false,
    doing: () => [],
    needs: () => nothing,
    toldByPage: true,
    reported: false,
    begins: () => null,
  }
  const without = { ...whole, needs: undefined }
  // @ts-expect-error It does not say what must be there.
  goalKind(schema, without)
  // @ts-expect-error It reads what it does not keep.
  goalKind(schema, { ...whole, words: ({ minutes }) => `${minutes}` })
  expect(goalKind(schema, whole).schema).toBe(schema)
})
