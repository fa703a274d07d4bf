import type { DocumentId, GoalId, NodeId, RoundId, VersionId } from '../ids'
import { credit, enrolmentAfter, goalSchema, type Change, type CountedRound, type Enrolment, type VisitorEvent } from '.'

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
const open: CountedRound = {
  id: round,
  versions: ['original' as VersionId, bold],
  goals: [reserved, pressed],
  startedAt: start,
  endedAt: null,
}

const visitor = 'f'.repeat(32)
const assigned = (at = start): VersionEvent => ({ visitor, at, kind: 'assigned', round, version: bold })
const seen = (at = start, version = bold): VersionEvent => ({ visitor, at, kind: 'seen', round, version })
const confirmation = (at: Date): VisitorEvent => ({ visitor, at, kind: 'page', document: 'confirmed' as DocumentId })
const press = (at: Date): VisitorEvent => ({
  visitor,
  at,
  kind: 'click',
  document: 'home' as DocumentId,
  nodes: ['button', 'hero'] as NodeId[],
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
    [
      'for a page that no goal names',
      [assigned(), seen(), { visitor, at: after(1), kind: 'page', document: 'about' as DocumentId }],
    ],
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

test('a goal without worth, window or manner gets the usual ones', () => {
  expect(goalSchema.parse({ id: 'g', name: 'G', wiring: { kind: 'page', document: 'd' } })).toMatchObject({
    worth: 1,
    counts: 'once',
    withinDays: 14,
    id: 'g' as GoalId,
  })
})
