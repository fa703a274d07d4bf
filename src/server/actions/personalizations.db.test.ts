import type { Condition } from '@/core/decide'
import { ladderOf } from '@/core/experiment'
import type { GoalId, NodeId, RoundId, VersionId } from '@/core/ids'
import { visitors } from '@/core/simulate'
import { inTransaction, type Database } from '../database/connect'
import { countNext } from '../ledger/count'
import { ruledEventsOf } from '../rehearse'
import { writeEvents } from '../stores/events'
import { openGains } from '../stores/gains'
import { newestReleaseNumber, readRelease } from '../stores/releases'
import { segmentsNow } from '../stores/segments'
import { act, administrator, asAlways, attempt, donePage, editor, freshDatabase, publisher, testPage } from '../test-database'

let db: Database
let goal: GoalId
beforeAll(async () => {
  db = await freshDatabase()
})
afterAll(() => db.destroy())

const place = { document: testPage.id, node: 'front-title' as NodeId }
const phone: Condition = { kind: 'device', device: 'phone' }
const words = (answer: { readonly body: unknown }) => (answer.body as { fault?: string }).fault ?? ''
const live = async () =>
  (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release.personalizations.find(({ node }) => node === place.node)
const read = () => act(db, editor, 'personalization.read', place)
const publish = () => act(db, publisher, 'personalization.publish', place)

async function ruleFor(condition: Condition, title: string): Promise<VersionId> {
  const { id, lock } = await act(db, editor, 'version.create', { ...place, manner: 'rule', from: null })
  await act(db, editor, 'version.save', {
    ...{ id, lock, name: title, condition },
    edits: [{ kind: 'set', node: place.node, prop: 'words', value: title }],
  })
  return id
}

/** Events written together; each by itself would cost a write to disk. */
const AT_ONCE = 1000

/** Moves all that is counted back to where simulated visitors come, and lets them come. */
async function letThemCome(rate: (rule: number, isHeld: boolean) => number): Promise<void> {
  await db('rounds')
    .whereNotNull('personalization')
    .update({ started_at: new Date('2026-01-01T00:00:00Z') })
  await asAlways(db)
  const now = await live()
  if (now === undefined) throw new Error('nothing is live')
  const open = await openGains(db)
  const roundOf = (id: RoundId | null) => open.find(({ snapshot }) => snapshot.id === id)?.snapshot
  const rules = now.rules.flatMap(({ round }) => roundOf(round) ?? [])
  const ruled = { ladder: ladderOf(now, await segmentsNow(db)), rules, together: roundOf(now.round) ?? null }
  const crowd = visitors({ seed: 1, visitors: 4000, days: 20, startsAt: new Date('2026-03-02T00:00:00Z') })
  const events = [...crowd].flatMap((visitor) => ruledEventsOf(visitor, ruled, {}, rate))
  for (let from = 0; from < events.length; from += AT_ONCE) await writeEvents(db, events.slice(from, from + AT_ONCE))
  while ((await inTransaction(db, (trx) => countNext(trx, 5000))) > 0);
}

test('without any goal nobody is held out; with one, from the first publish on', async () => {
  await ruleFor(phone, 'Small')
  await publish()
  expect(await live()).toMatchObject({ holdout: 0, rules: [{ round: null }] })
  expect((await read()).rounds).toEqual([])
  goal = (await act(db, editor, 'goal.create', { name: 'Done', wiring: { kind: 'page', document: donePage.id } })).id
  // One that is not published yet is nobody’s choice by itself.
  expect((await read()).plan).toMatchObject({ holdout: 1000, primary: null })
  await act(db, editor, 'personalization.plan', { ...place, lock: 0, plan: { ...(await read()).plan, primary: goal } })
  expect(await read()).toMatchObject({ live: true, changed: true, lock: 1 })
  await publish()
  expect(await live()).toMatchObject({
    holdout: 1000,
    primary: goal,
    round: null,
    rules: [{ round: expect.stringMatching(/^g-/) }],
  })
  expect(await read()).toMatchObject({ changed: false, rounds: [{ number: 1, holdout: 1000, until: null }] })
  // It counts from now on, as it was made then.
  const release = (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release
  expect(release?.goals.map(({ id }) => id)).toEqual([goal])
})

test('how it is measured is saved once, over nothing that somebody else has saved, by goals that are there', async () => {
  const { plan, lock } = await read()
  const change = { ...place, lock, plan: { ...plan, holdout: 2000 } }
  expect(await act(db, editor, 'personalization.plan', change)).toEqual({ lock: lock + 1 })
  expect(await act(db, editor, 'personalization.plan', change)).toEqual({ lock: lock + 1 })
  const other = await attempt(db, editor, 'personalization.plan', { ...change, plan })
  expect([other.status, words(other)]).toEqual([409, expect.stringContaining('Somebody else')])
  const gone = { ...place, lock: lock + 1, plan: { ...plan, watched: ['nowhere' as GoalId] } }
  expect(words(await attempt(db, editor, 'personalization.plan', gone))).toContain('not there any more')
  // An editor cannot put it live; a share of more than half is none.
  expect((await attempt(db, editor, 'personalization.publish', place)).status).toBe(403)
  const most = await attempt(db, editor, 'personalization.plan', { ...change, lock: lock + 1, plan: { ...plan, holdout: 6000 } })
  expect(most.status).toBe(400)
})

test('a second rule begins to be counted, and all together with it; what was counted goes on', async () => {
  const before = await live()
  await act(db, editor, 'personalization.plan', {
    ...place,
    lock: (await read()).lock,
    plan: { ...(await read()).plan, holdout: 1000 },
  })
  const { id } = await act(db, editor, 'segment.create', { name: 'Tablets', condition: { kind: 'device', device: 'tablet' } })
  await ruleFor({ kind: 'segment', segment: id, fits: true }, 'Middle')
  await Promise.all([publish(), publish()])
  const now = await live()
  expect(now?.rules[0]?.round).toBe(before?.rules[0]?.round)
  expect([now?.rules[1]?.round, now?.round]).toEqual([expect.stringMatching(/^g-/), expect.stringMatching(/^g-/)])
  expect(await openGains(db)).toHaveLength(3)

  // A segment that asks something else: the rule that names it, and all together, begin anew; nothing else goes live with it.
  const { lock: goalLock, ...open } = await act(db, editor, 'goal.open', { goal })
  await act(db, editor, 'goal.save', { ...open.goal, name: 'Done, almost', lock: goalLock })
  await act(db, publisher, 'segment.save', { id, lock: 1, name: 'Tablets', condition: { kind: 'none', of: [phone] } })
  const renewed = await live()
  const goals = (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release.goals
  expect(goals?.map(({ name }) => name)).toEqual(['Done'])
  expect(renewed?.rules.map(({ round }, at) => round === now?.rules[at]?.round)).toEqual([true, false])
  expect(renewed?.round).not.toBe(now?.round)
  expect((await openGains(db)).map(({ snapshot }) => snapshot.id).sort()).toEqual(
    [...(renewed?.rules ?? []).map(({ round }) => round), renewed?.round].sort(),
  )
})

test('what each rule gains is read like a test, and in one list of all', async () => {
  const [first] = (await live())?.rules.map(({ version }) => version.id) ?? []
  await letThemCome((rule, isHeld) => (isHeld ? 0.15 : rule === 0 ? 0.34 : 0.04))
  const [part] = (await act(db, editor, 'segment.parts', {})).parts
  expect(part).toMatchObject({ holdout: 1000, together: { held: expect.any(Number) } })
  expect(part?.rules.map(({ gain }) => gain?.reading)).toEqual(['better', 'worse'])
  expect(part?.rules[0]?.gain?.sentence).toMatch(
    /^‘Small’ is better: 3\d\.\d% reach “Done” instead of 1\d(\.\d)?%.*It pays to leave it on\.$/,
  )
  expect(part?.rules[1]?.gain?.sentence).toContain('Take it off, or change it.')
  expect((part?.together?.held ?? 0) / ((part?.together?.held ?? 0) + (part?.together?.shown ?? 1))).toBeCloseTo(0.1, 1)

  const { rounds } = await read()
  const own = rounds.find(({ rule }) => rule === first)
  const result = await act(db, editor, 'personalization.result', { round: own?.id ?? rounds[0]!.id })
  expect(result).toMatchObject({ goal: { id: goal }, split: { trusted: true }, rates: [{ name: 'Original' }, { name: 'Small' }] })
  // Beside a round stand those before it of the same rule, and of no other.
  const before = async (round: RoundId) =>
    (await act(db, editor, 'result.before', { round, goal })).rounds.map(({ number }) => number)
  const earlier = rounds.map(({ rule, number }) =>
    rounds.flatMap((one) => (one.rule === rule && one.number < number ? [one.number] : [])).sort((one, other) => one - other),
  )
  expect(await Promise.all(rounds.map(({ id }) => before(id)))).toEqual(earlier)
  expect(earlier[rounds.findIndex(({ rule }) => rule === first)]).toEqual([])
  expect(earlier.flat()).not.toEqual([])
  // A goal that is counted by cannot be thrown away.
  await act(db, publisher, 'goal.archive', { goal, archived: true })
  expect(words(await attempt(db, editor, 'goal.remove', { goal }))).toContain('What rules gain is counted by it')
  await act(db, publisher, 'goal.archive', { goal, archived: false })
})

test('taken off, it is written down with what was learned, and its results stay', async () => {
  await act(db, publisher, 'personalization.withdraw', { ...place, lesson: 'Small words pay.' })
  expect(await live()).toBeUndefined()
  expect(await openGains(db)).toEqual([])
  const { lines, total } = await act(db, editor, 'personalization.ended', { search: 'small words' })
  expect(total).toBe(1)
  expect(lines).toMatchObject([
    {
      lesson: 'Small words pay.',
      goal: 'Done',
      page: 'Front',
      rules: [{ name: 'Small', reading: 'better' }, { reading: 'worse' }],
    },
  ])
  expect(lines[0]?.rules[0]?.sentence).not.toContain('It pays')
  await act(db, editor, 'personalization.learned', { id: lines[0]?.id ?? '', lesson: 'Even more.' })
  expect((await act(db, editor, 'personalization.ended', {})).lines[0]?.lesson).toBe('Even more.')
  expect((await read()).rounds.filter(({ until }) => until === null)).toEqual([])
  const twice = await attempt(db, publisher, 'personalization.withdraw', place)
  expect(twice.status).toBe(409)
  expect((await attempt(db, administrator, 'personalization.result', { round: 't-1-r1' as never })).status).toBe(404)
})
