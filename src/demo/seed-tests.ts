import { eventIdOf } from '@/serving/event-id'
import type { Knex } from 'knex'
import { EVERYBODY, ORIGINAL, type Device } from '@/core/decide'
import type { Edit } from '@/core/document'
import { markerSchema } from '@/core/events'
import type { DocumentId, GoalId, NodeId, TestId, VersionId } from '@/core/ids'
import { visitors } from '@/core/simulate'
import { adaptSplits } from '@/jobs/by-the-clock'
import { tallyAll } from '@/jobs/work'
import { type Database } from '@/server/database/connect'
import { eventsOf } from '@/server/rehearse'
import { roundsOf, testNumber, type RoundRow } from '@/server/stores/tests'
import { holdVersion } from '@/server/stores/versions'
import { writeEvents } from '@/server/stores/events'
import { act } from './act'
import type { DemoTest } from './demo-test'
import { publishedPages } from './site-pages'
import { noteOfSegments } from '@/core/experiment'
import { segmentsNow } from '@/server/stores/segments'
import { testsOfEveryKind } from './tests-of-every-kind'

const DAY = 86_400_000

const set = (node: string, prop: string, value: string): Edit => ({ kind: 'set', node: node as NodeId, prop, value })

const ofOneComponent = (
  document: string,
  node: string,
  variants: readonly { name: string; edits: readonly Edit[] }[],
): DemoTest['parts'] => [{ document, node, variants }]

const settledWell: DemoTest = {
  name: 'What the plans page says first',
  parts: ofOneComponent('plans', 'plans-title', [
    { name: 'Repairs included', edits: [set('plans-title', 'words', 'One price a month. Strings and repairs are on us.')] },
  ]),
  goal: 'reserved',
  problem: 'Visitors read the prices and leave. Those we asked thought that repairs cost extra.',
  change: 'Say in the title that repairs are included.',
  expected: 'More people go on to reserve.',
  status: 'running',
  rates: [0.1, 0.135],
  visitors: 12_000,
  days: 26,
  smallestEffect: 0.2,
  endedDaysAgo: 6,
}
const settledSame: DemoTest = {
  name: 'Ten instruments, or a promise',
  parts: ofOneComponent('instruments', 'instruments-title', [
    { name: 'A promise', edits: [set('instruments-title', 'words', 'There is one here that suits you')] },
  ]),
  goal: 'plans-seen',
  problem: 'The list opens with a number. Numbers are dry.',
  change: 'Open with a promise instead.',
  expected: 'More people look at the plans.',
  status: 'running',
  rates: [0.306, 0.305],
  ratesOn: { phone: [0.306, 0.332], computer: [0.306, 0.266] },
  visitors: 22_000,
  days: 28,
  endedDaysAgo: 12,
  smallestEffect: 0.1,
}
/** From before these: what tests of a heading mostly do is seen by all of them together. */
const longAgo: readonly (DemoTest & { readonly lesson: string })[] = [
  {
    name: 'The price in the title',
    parts: ofOneComponent('plans', 'plans-title', [
      { name: 'From 14 a month', edits: [set('plans-title', 'words', 'Instruments from 14 a month')] },
    ]),
    goal: 'reserved',
    problem: 'Nobody knows what it costs before they scroll.',
    change: 'Say the lowest price in the title.',
    expected: 'More people go on to reserve.',
    status: 'running',
    rates: [0.1, 0.094],
    ...{ visitors: 5200, days: 21, endedDaysAgo: 75, smallestEffect: 0.2 },
    lesson: 'The lowest price makes people look for what it leaves out.',
  },
  {
    name: 'A question above the prices',
    parts: ofOneComponent('plans', 'plans-title', [
      { name: 'A question', edits: [set('plans-title', 'words', 'Which one have you always wanted to play?')] },
    ]),
    goal: 'reserved',
    problem: 'The prices are read and left.',
    change: 'Ask a question that only the visitor can answer.',
    expected: 'More people go on to reserve.',
    status: 'running',
    rates: [0.1, 0.106],
    ...{ visitors: 6400, days: 21, endedDaysAgo: 48, smallestEffect: 0.2 },
    lesson: 'It may help a little. It would take twice as long to know.',
  },
]

const running: DemoTest = {
  name: 'A warmer word above the form',
  parts: ofOneComponent('reserve', 'reserve-title', [
    { name: 'Nothing to pay yet', edits: [set('reserve-title', 'words', 'Reserve yours. Nothing to pay yet.')] },
    { name: 'Give it back any day', edits: [set('reserve-title', 'words', 'Reserve yours. Give it back any day.')] },
  ]),
  goal: 'reserved',
  problem: 'Six in ten who open the reservation form do not send it.',
  change: 'Say that nothing is paid yet.',
  expected: 'More forms are sent.',
  status: 'running',
  rates: [0.42, 0.5, 0.425],
  wanders: {
    presses: ['reserve-form', 'reserve-title', 'reserve-picture-11'],
    next: ['plans', 'instruments', 'about', 'contact'],
    late: 0.3,
  },
  visitors: 7800,
  days: 16,
  smallestEffect: 0.15,
}
const early: DemoTest = {
  name: 'The button of the trial lesson',
  parts: ofOneComponent('trial-lesson', 'trial-lesson-form', [
    { name: 'Save me a place', edits: [set('trial-lesson-form', 'buttonWords', 'Save me a place')] },
  ]),
  goal: 'lesson-booked',
  problem: '“Book” sounds like money.',
  change: 'Say “Save me a place”.',
  expected: 'More lessons are asked for.',
  status: 'running',
  rates: [0.3, 0.31],
  visitors: 420,
  days: 3,
  smallestEffect: 0.2,
}
const unfinished: DemoTest = {
  name: 'Ask for the cello by its name',
  parts: ofOneComponent('cello', 'cello-reserve', [
    { name: 'Bring me the cello', edits: [set('cello-reserve', 'words', 'Bring me the cello')] },
  ]),
  goal: 'reserved',
  problem: 'The button says the same on every instrument.',
  change: '',
  expected: '',
  status: 'draft',
}

/** Each of them is one. */
export const testSteps = 5 + testsOfEveryKind.length + longAgo.length

export async function seedTests(db: Database, step: () => void = () => undefined): Promise<void> {
  const first = await runTest(db, settledSame)
  await act(db, 'test.decide', {
    test: first.test,
    version: ORIGINAL,
    reason: '',
    lesson: 'A promise is not drier than a number. We keep the number, because it is true.',
  })
  await backdate(db, first.test, settledSame)
  step()
  const second = await runTest(db, settledWell)
  await act(db, 'test.decide', {
    test: second.test,
    version: second.arms[1] ?? ORIGINAL,
    reason: '',
    lesson: 'People fear what is added at the end. Say what is included in the first line.',
  })
  await backdate(db, second.test, settledWell)
  step()
  for (const demo of [running, early, unfinished, ...testsOfEveryKind]) {
    const { test } = await (demo.status === 'running' ? runTest(db, demo) : draftTest(db, demo))
    if (demo === running) {
      await act(db, 'test.note', {
        test,
        words: 'The newsletter “First notes” went out today: more people than usual came to reserve.',
      })
      await act(db, 'test.tag', { test, tags: ['reserving'] })
    }
    step()
  }
  for (const demo of longAgo) {
    const { test } = await runTest(db, demo)
    await act(db, 'test.decide', {
      ...{ test, version: ORIGINAL, lesson: demo.lesson },
      reason: 'We wait for something larger.',
    })
    await backdate(db, test, demo)
    await act(db, 'test.tag', { test, tags: ['titles'] })
    step()
  }
  for (const { test } of [first, second]) await act(db, 'test.tag', { test, tags: ['titles'] })
}

async function draftTest(db: Database, demo: DemoTest): Promise<{ test: TestId; arms: VersionId[] }> {
  const parts = demo.parts.map(({ document, node }) => ({ document: document as DocumentId, node: node as NodeId }))
  for (const [index, part] of parts.entries())
    for (const [at, { name, edits: last }] of (demo.parts[index]?.variants ?? []).entries()) {
      const edits = index === 0 && at === 0 ? (demo.before?.edits ?? last) : last
      const made = await act(db, 'version.create', { ...part, manner: 'chance', name, from: null })
      await act(db, 'version.save', { id: made.id, lock: made.lock, edits: [...edits] })
    }
  const { test } = await act(db, 'test.create', { parts })
  const { design, lock } = await act(db, 'test.open', { test })
  const { name, problem, change, expected, goal, campaign = '', smallestEffect = 0.05, audience = EVERYBODY, watched = [] } = demo
  await act(db, 'test.save', {
    test,
    lock,
    design: {
      ...{ ...design, name, problem, change, expected, campaign, smallestEffect, audience },
      ...{ primary: goal as GoalId, watched: watched as GoalId[] },
      adaptive: demo.follows === undefined ? null : { floor: demo.follows, every: 1440 },
    },
  })
  return { test, arms: design.arms.map(({ version }) => version) }
}

/** Starts a test, moves its beginning back, and lets its visitors come through the real decide and collect code. */
async function runTest(db: Database, demo: DemoTest): Promise<{ test: TestId; arms: VersionId[] }> {
  const { before, rates = [], ratesOn = {}, visitors: crowd = 0, days = 0, endedDaysAgo = 0 } = demo
  const made = await draftTest(db, demo)
  const { lock } = await act(db, 'test.open', { test: made.test })
  await act(db, 'test.start', { test: made.test, lock })
  const number = testNumber(made.test)
  const startsAt = new Date(Math.floor(Date.now() / DAY) * DAY - (endedDaysAgo + days) * DAY)
  const beganAt = new Date(startsAt.getTime() - (before?.days ?? 0) * DAY)
  await db('rounds').where({ test_number: number }).update({ started_at: beganAt })
  await db('tests').where({ number }).update({ started_at: beganAt })
  if (before !== undefined) {
    await sendRound(db, demo, made, { ...before, ratesOn: {}, startsAt: beganAt, seed: 2000 + number })
    await changeVariant(db, demo, made)
    await db('rounds').where({ test_number: number, number: 1 }).update({ ended_at: startsAt, pauses: '[]' })
    await db('rounds').where({ test_number: number, number: 2 }).update({ started_at: startsAt })
  }
  await sendRound(db, demo, made, { rates, ratesOn, visitors: crowd, days, startsAt, seed: demo.seed ?? 1000 + number })
  return made
}

/** What its first variant shows from its second round on. */
async function changeVariant(db: Database, demo: DemoTest, { test, arms }: { test: TestId; arms: VersionId[] }): Promise<void> {
  const [, id] = arms
  const edits = demo.parts[0]?.variants[0]?.edits
  if (id === undefined || edits === undefined) throw new Error(`“${demo.name}” of the demo has no variant to change`)
  await act(db, 'test.pause', { test })
  const found = await db.transaction((trx) => holdVersion(trx, id))
  await act(db, 'version.save', { id, lock: found.lock_version, edits: [...edits] })
  await act(db, 'test.goOn', { test, lock: (await act(db, 'test.open', { test })).lock })
}

interface RoundOfDemo extends Required<Pick<DemoTest, 'rates' | 'ratesOn' | 'visitors' | 'days'>> {
  readonly startsAt: Date
  readonly seed: number
}

/** Visitors of the newest round, from when it began until now. */
async function sendRound(
  db: Database,
  demo: DemoTest,
  { test, arms }: { test: TestId; arms: VersionId[] },
  { rates, ratesOn, visitors: crowd, days, startsAt, seed }: RoundOfDemo,
): Promise<void> {
  const ratesOf = (device: Device) =>
    new Map(arms.map((version, index): [VersionId, number] => [version, (ratesOn[device] ?? rates)[index] ?? 0]))
  const trueRates = { phone: ratesOf('phone'), tablet: ratesOf('tablet'), computer: ratesOf('computer') }
  const besides = {
    ...{ segmentsOf: noteOfSegments(await segmentsNow(db)), known: knownIn(demo) },
    ...wanderingIn(demo, arms),
  }
  // What comes after a test has ended is none of it: counted anew, it would not be there.
  const until = demo.endedDaysAgo === undefined ? Date.now() : endOf(demo).getTime()
  let { snapshot } = await newestRound(db, test)
  let group: ReturnType<typeof eventsOf> = []
  const send = async () => {
    await writeEvents(db, group)
    group = []
  }
  let day = 0
  const dayIsOver = async () => {
    await send()
    await followVisitors(db, test, new Date(startsAt.getTime() + ++day * DAY))
    snapshot = (await newestRound(db, test)).snapshot
  }
  for (const visitor of visitors({ seed, visitors: crowd, days, startsAt })) {
    while (demo.follows !== undefined && visitor.arrivesAt.getTime() >= startsAt.getTime() + (day + 1) * DAY) await dayIsOver()
    const events = eventsOf(visitor, snapshot, 0, trueRates[visitor.device], besides)
    // The same people may be in another test: what they do there is something else.
    const own = events.map((event) => ({ ...event, id: eventIdOf(`${snapshot.id} ${event.id}`) }))
    group.push(...own.filter(({ at }) => at.getTime() < until))
    if (group.length >= 3000) await send()
  }
  // Up to last midnight: the next time is a day later.
  if (demo.follows !== undefined) await dayIsOver()
  await send()
  await tallyAll(db)
}

async function newestRound(db: Database, test: TestId): Promise<RoundRow> {
  const [round] = await roundsOf(db, testNumber(test))
  if (round === undefined) throw new Error('the demo test has no round')
  return round
}

/** Once all that came is counted, the split is worked out as it is for every test, and is said to have been at that time. */
async function followVisitors(db: Database, test: TestId, at: Date): Promise<void> {
  await tallyAll(db)
  const before = (await newestRound(db, test)).reweighed
  await adaptSplits(db, at)
  const { snapshot, reweighed } = await newestRound(db, test)
  const then = reweighed.map((one, index) => (index < before.length ? one : { ...one, at }))
  await db('rounds')
    .where({ id: snapshot.id })
    .update({ reweighed: JSON.stringify(then) })
}

/** By their ids, and by what they would do on the original, so that no version is given more of them. */
function knownIn({ known = 0, rates = [] }: DemoTest): NonNullable<NonNullable<Parameters<typeof eventsOf>[4]>['known']> {
  return ({ id, luck }) => {
    const [here, reached] = [id.slice(0, 6), id.slice(6, 12)].map((digits) => parseInt(digits, 16) / 2 ** 24)
    if (here === undefined || reached === undefined || here >= known) return null
    return reached < (luck < (rates[0] ?? 0) ? 0.7 : 0.04) ? 'reached' : 'looked'
  }
}

/** What a part is marked with, for goals that count whatever is marked so. */
function markersOn(node: string): string[] {
  const marked = publishedPages.find(({ nodes }) => node in nodes)?.nodes[node as NodeId]
  const marker = markerSchema.safeParse(marked?.props.marker)
  return marker.success ? [marker.data] : []
}

/** What visitors of a test of the demo do besides. */
function wanderingIn({ wanders, parts }: DemoTest, arms: readonly VersionId[]): NonNullable<Parameters<typeof eventsOf>[4]> {
  if (wanders === undefined) return {}
  const { page, presses, next, slower = [], late = 0 } = wanders
  const [first] = parts
  const places = {
    page: (page ?? first?.document) as DocumentId,
    reads: first?.node as NodeId,
    presses: presses.map((node) => ({ node: node as NodeId, markers: markersOn(node) })),
    next: next as DocumentId[],
  }
  return {
    around: (version) => ({ ...places, slower: slower[arms.indexOf(version)] ?? 1 }),
    // By their ids, which have to do with nothing else: how many days later, of those who come back for it.
    later: ({ id }) => {
      const lot = parseInt(id.slice(-6), 16) / 2 ** 24
      return lot < late ? Math.ceil((lot / late) * 8) * DAY : 0
    },
  }
}

function endOf({ endedDaysAgo = 0 }: DemoTest): Date {
  return new Date(Math.floor(Date.now() / DAY) * DAY - endedDaysAgo * DAY)
}

/** Moves the end and the decision of a settled test to where its history says. */
async function backdate(db: Knex, test: TestId, demo: DemoTest): Promise<void> {
  const at = endOf(demo)
  await db('rounds')
    .where({ test_number: testNumber(test) })
    .update({ ended_at: at })
  await db('tests')
    .where({ number: testNumber(test) })
    .update({ settled_at: at, decision: db.raw("JSON_SET(decision, '$.at', ?)", [at.toISOString()]) })
}
