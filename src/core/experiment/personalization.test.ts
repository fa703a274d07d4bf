import type { Condition } from '../decide'
import type { Edit } from '../document'
import type { DocumentId, GoalId, NodeId, RoundId, SegmentId, VersionId } from '../ids'
import { gainRound, renewed, type Personalization } from './personalization'
import { roundSchema } from './design'

const phone: Condition = { kind: 'device', device: 'phone' }
const near: Condition = { kind: 'segment', segment: 'near' as SegmentId, fits: true }
const edits = (words: string): Edit[] => [{ kind: 'set', node: 'title' as NodeId, prop: 'words', value: words }]
const rule = (id: string, condition: Condition, words = id) => ({
  version: { id: id as VersionId, name: id, edits: edits(words) },
  condition,
})
const place = { id: 'front.title', document: 'front' as DocumentId, node: 'title' as NodeId }
const plan = { holdout: 1000, primary: 'reserved' as GoalId, watched: [] }
const a = rule('a', phone)
const b = rule('b', near)
let rounds = 0
const newRound = () => `g-${++rounds}` as RoundId
const publish = (
  before: Personalization | null,
  rules = [a, b],
  more: object = {},
  context: Parameters<typeof renewed>[3] = {},
) => renewed(before, { ...place, rules, plan: { ...plan, ...more } }, newRound, { held: before, ...context })
const first = publish(null)
const [roundOfA, roundOfB] = first.personalization.rules.map(({ round }) => round)
const together = first.personalization.round
/** Which of A’s, B’s and the common round go on. */
const goesOn = ({ personalization: { rules, round } }: ReturnType<typeof publish>) => [
  rules.some((one) => one.round === roundOfA),
  rules.some((one) => one.round === roundOfB),
  round === together,
]

beforeEach(() => {
  rounds = 100
})

test('what goes live first is counted from then on: each rule, and all together', () => {
  expect(first.opens.map(({ rule: at }) => at)).toEqual([0, 1, null])
  expect(first.closes).toEqual([])
  expect(publish(null, [a]).personalization.round).toBeNull()
})

const changedEdits = { ...b, version: { ...b.version, edits: edits('other') } }
test.each<[string, ReturnType<typeof publish>, readonly boolean[]]>([
  ['goes on as it was', publish(first.personalization), [true, true, true]],
  [
    'is called otherwise',
    publish(first.personalization, [a, { ...b, version: { ...b.version, name: 'B' } }]),
    [true, true, true],
  ],
  ['shows something else', publish(first.personalization, [a, changedEdits]), [true, false, false]],
  [
    'is for others, which touches those below it',
    publish(first.personalization, [{ ...a, condition: near }, b]),
    [false, false, false],
  ],
  ['changes places', publish(first.personalization, [b, a]), [false, false, false]],
  ['gets one below it', publish(first.personalization, [a, b, rule('c', phone)]), [true, true, false]],
  ['loses the one below it', publish(first.personalization, [a]), [true, false, false]],
  [
    'names a segment that asks something else',
    publish(first.personalization, [a, b], {}, { changed: new Set(['near' as SegmentId]) }),
    [true, false, false],
  ],
  ['goes by other goals', publish(first.personalization, [a, b], { watched: ['wrote'] }), [false, false, false]],
  ['holds others out', publish(first.personalization, [a, b], { holdout: 2000 }), [false, false, false]],
])('a rule that %s', (_, next, expected) => {
  expect(goesOn(next)).toEqual(expected)
  // What does not go on is closed, and what is closed does not go on.
  const before = [roundOfA, roundOfB, together].filter((_id, at) => expected[at] === false)
  expect([...next.closes].sort()).toEqual([...before].sort())
})

test('whom it holds out is drawn anew with another share, and never goes back to how it was drawn before', () => {
  const wider = publish(first.personalization, [a, b], { holdout: 2000 }).personalization
  const none = publish(wider, [a, b], { holdout: 0 }).personalization
  const back = publish(none, [a, b], {}, { held: wider }).personalization
  expect([first.personalization, wider, none, back].map(({ drawn }) => drawn)).toEqual([0, 1, 1, 2])
  expect(none).toMatchObject({ holdout: 0, round: null, rules: [{ round: null }, { round: null }] })
})

test('without a goal nobody is held out, as nothing could be found out', () => {
  expect(publish(null, [a, b], { primary: null }).personalization).toMatchObject({ holdout: 0, round: null })
})

test('a round of it can be kept and read like one of a test', () => {
  const of = first.personalization
  const facts = { goals: [], plannedTotal: 1000, smallestEffect: 0.1 }
  const own = gainRound({ id: roundOfA as RoundId, rule: 0, number: 1 }, of, facts)
  expect(roundSchema.parse(JSON.parse(JSON.stringify(own)))).toEqual(own)
  expect(own.design.arms).toMatchObject([
    { version: 'original', weight: 1000 },
    { version: 'a', weight: 9000 },
  ])
  const all = gainRound({ id: together as RoundId, rule: null, number: 1 }, of, facts)
  expect(all.design.arms).toMatchObject([{ version: 'original' }, { version: 'by-rule' }])
})
