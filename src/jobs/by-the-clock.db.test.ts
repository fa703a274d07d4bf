import { ORIGINAL } from '@/core/decide'
import { scheduleSchema, type Design, type Schedule } from '@/core/experiment'
import { goalIdSchema, roundIdSchema, type TestId, type VersionId } from '@/core/ids'
import type { Database } from '@/server/database/connect'
import { newestReleaseNumber, readRelease } from '@/server/stores/releases'
import { act, administrator, attempt, editor, freshDatabase, publisher, readyTest, testPage } from '@/server/test-database'
import { adaptSplits, keepTime } from './by-the-clock'

const NOON = new Date('2026-12-01T12:00:00Z')
const later = (minutes: number) => new Date(NOON.getTime() + minutes * 60_000)

let db: Database
let test1: TestId
let variant: VersionId
beforeEach(async () => {
  jest.useFakeTimers({
    now: NOON,
    doNotFake: [
      'nextTick',
      'setImmediate',
      'setTimeout',
      'setInterval',
      'clearTimeout',
      'clearInterval',
      'queueMicrotask',
      'performance',
    ],
  })
  db = await freshDatabase()
  ;({ test: test1, variant } = await readyTest(db, 'Other'))
})
afterEach(async () => {
  jest.useRealTimers()
  await db.destroy()
})

const opened = () => act(db, editor, 'test.open', { test: test1 })
const line = async () => (await act(db, editor, 'test.list', {})).lines[0]
async function planned(schedule: Partial<Schedule>, more: Partial<Design> = {}): Promise<number> {
  const { design, lock } = await opened()
  const changed = { ...design, ...more, schedule: scheduleSchema.parse({ ...design.schedule, ...schedule }) }
  return (await act(db, editor, 'test.save', { test: test1, lock, design: changed })).lock
}
const served = async () => (await readRelease(db, (await newestReleaseNumber(db)) ?? 0))?.release.rounds ?? []
async function at(now: Date): Promise<void> {
  jest.setSystemTime(now)
  await keepTime(db, now)
}
const none = { assigned: 0, exposed: 0, converters: 0, conversions: 0, worth: 0, worth_squared: 0, visits: 0, visits_squared: 0 }
/** As if so many had seen each version and reached the goal, in the epoch. */
async function counted(original: [number, number], other: [number, number], epoch = 1, day = '2026-12-01'): Promise<void> {
  const { rounds, design } = await opened()
  const rows = [
    [ORIGINAL, original],
    [variant, other],
  ] as const
  for (const [version, [exposed, converters]] of rows)
    await db('tallies').insert([
      { crowd: 0, round_id: rounds[0]?.id, epoch, goal_id: '', version, day, ...none, assigned: exposed, exposed },
      {
        crowd: 0,
        round_id: rounds[0]?.id,
        epoch,
        goal_id: design.primary,
        version,
        day,
        ...none,
        converters,
        conversions: converters,
      },
    ])
}

describe('a start that is set to a time', () => {
  test('needs a publisher and a time, locks the test, and comes once, however many keep the time', async () => {
    expect((await attempt(db, publisher, 'test.schedule', { test: test1, lock: (await opened()).lock })).status).toBe(400)
    const lock = await planned({ start: '2026-12-01T12:30' })
    expect((await attempt(db, editor, 'test.schedule', { test: test1, lock })).status).toBe(403)
    await act(db, publisher, 'test.schedule', { test: test1, lock })
    const { design } = await opened()
    expect(await attempt(db, editor, 'test.save', { test: test1, lock, design: { ...design, share: 5000 } })).toMatchObject({
      status: 422,
      body: { fault: expect.stringContaining('Make it a draft again') },
    })
    await at(later(29))
    expect([(await opened()).status, await served()]).toEqual(['scheduled', []])
    jest.setSystemTime(later(30))
    await Promise.all([keepTime(db, later(30)), keepTime(db, later(30)), keepTime(db, later(30))])
    expect(await line()).toMatchObject({ status: 'running', news: { kind: 'started', words: 'It started at its time.' } })
    expect((await opened()).rounds).toHaveLength(1)
    const trail = await act(db, administrator, 'trail.list', {
      person: null,
      search: 'started at its time',
      from: null,
      to: null,
      page: 1,
    })
    expect(trail.lines).toMatchObject([{ person: 'the schedule', detail: 'started at its time' }])
  })

  test('that was missed is caught up with, and said', async () => {
    await act(db, publisher, 'test.schedule', { test: test1, lock: await planned({ start: '2026-12-01T12:30' }) })
    await at(later(300))
    expect(await line()).toMatchObject({
      status: 'running',
      news: { words: expect.stringContaining('late, as nothing was running') },
    })
  })

  test('of something that is not ready any more makes it a draft again, and says why', async () => {
    await act(db, publisher, 'test.schedule', { test: test1, lock: await planned({ start: '2026-12-01T12:30' }) })
    await db('documents').where({ id: testPage.id }).update({ published_revision: null })
    await at(later(31))
    expect(await line()).toMatchObject({
      status: 'draft',
      news: { kind: 'notStarted', words: expect.stringMatching(/^It could not start at its time: /) },
    })
  })

  test('can be taken back', async () => {
    await act(db, publisher, 'test.schedule', { test: test1, lock: await planned({ start: '2026-12-01T12:30' }) })
    await act(db, publisher, 'test.unschedule', { test: test1 })
    await at(later(60))
    expect((await opened()).status).toBe('draft')
  })
})

describe('an end', () => {
  const started = async (schedule: Partial<Schedule>, more: Partial<Design> = {}) =>
    act(db, publisher, 'test.start', { test: test1, lock: await planned(schedule, more) })

  test('at its time waits for a decision', async () => {
    await started({ end: '2026-12-15T12:00' })
    await at(later(14 * 1440 - 1))
    expect((await opened()).status).toBe('running')
    await at(later(14 * 1440))
    expect(await line()).toMatchObject({
      status: 'ended',
      news: { kind: 'ended', words: expect.stringContaining('It waits for your decision') },
    })
    expect(await served()).toEqual([])
  })

  test('by its stop rule takes the better variant over, which can be taken back', async () => {
    await started({ stop: { days: 1, visitors: 5000, until: 'settled' }, then: 'takeBetter' })
    await counted([10_000, 1000], [10_000, 1300])
    await at(later(1439))
    expect((await opened()).status).toBe('running')
    await at(later(1441))
    expect(await line()).toMatchObject({
      status: 'settled',
      news: { kind: 'settled', words: expect.stringContaining('taken over') },
    })
    expect((await opened()).decision).toMatchObject({ kind: 'take', version: variant, by: 'the schedule' })
    expect((await line())?.news).toMatchObject({ kind: 'settled' })
    await act(db, publisher, 'test.undo', { test: test1 })
    expect([(await line())?.news, (await opened()).news]).toEqual([null, null])
    expect((await opened()).status).toBe('ended')
  })

  test('decides nothing by counts that are not to be trusted, and keeps the original where nothing is better', async () => {
    await started({ end: '2026-12-03T12:00', then: 'takeBetter' })
    await counted([10_000, 1000], [7000, 1300])
    await at(later(2 * 1440))
    expect(await line()).toMatchObject({ status: 'ended', news: { words: expect.stringContaining('did not decide itself') } })
  })

  test('of a test that runs is set by publishers alone, and never to what is past', async () => {
    await started({})
    const { design, lock } = await opened()
    const ending = (end: string) => ({ test: test1, lock, design: { ...design, schedule: { ...design.schedule, end } } })
    expect((await attempt(db, editor, 'test.save', ending('2026-12-20T12:00'))).status).toBe(403)
    expect(
      await attempt(db, editor, 'test.save', { test: test1, lock, design: { ...design, adaptive: { floor: 1000, every: 60 } } }),
    ).toMatchObject({
      status: 403,
    })
    expect(await attempt(db, publisher, 'test.save', ending('0002-12-01T12:00'))).toMatchObject({
      status: 400,
      body: { fault: expect.stringContaining('That end is past') },
    })
    expect((await attempt(db, publisher, 'test.save', ending('2026-12-20T12:00'))).status).toBe(200)
  })

  test('comes even where what would be taken over cannot be any more, and another test keeps its own time', async () => {
    await started({ end: '2026-12-03T12:00', then: 'takeBetter' })
    await counted([10_000, 1000], [10_000, 1300])
    await db('documents').where({ id: testPage.id }).update({ published_revision: null })
    await at(later(2 * 1440))
    expect(await line()).toMatchObject({
      status: 'ended',
      news: { kind: 'ended', words: expect.stringContaining('could not decide itself') },
    })
  })

  test('where nothing was better keeps the original', async () => {
    await started({ end: '2026-12-03T12:00', then: 'takeBetter' })
    await counted([1000, 100], [1000, 105])
    await at(later(2 * 1440))
    expect((await opened()).decision).toMatchObject({ kind: 'keep', version: ORIGINAL })
  })

  test('is not the last: it can be run again, in a round of its own, and what was decided stays readable', async () => {
    await started({ end: '2026-12-03T12:00', then: 'takeBetter' })
    await counted([1000, 100], [1000, 105])
    await at(later(2 * 1440))
    await act(db, editor, 'test.again', { test: test1 })
    const again = await opened()
    expect([again.status, again.decision?.kind, again.earlier, again.design.schedule.end]).toEqual(['draft', 'keep', [], null])
    expect((await act(db, editor, 'notebook.list', {})).lines).toHaveLength(1)
    expect((await attempt(db, editor, 'test.remove', { test: test1 })).status).toBe(422)
    await act(db, publisher, 'test.start', { test: test1, lock: again.lock })
    expect((await opened()).rounds.map(({ number, because }) => [number, because])).toEqual([
      [2, 'it was run again'],
      [1, ''],
    ])
    const result = await act(db, editor, 'result.read', { test: test1, crowd: 0 })
    expect(result?.rates.map(({ exposed }) => exposed)).toEqual([0, 0])
    // Beside what is read stands how the round before went, by its own counts; before the first there is none.
    const { rounds, design } = await opened()
    const goal = goalIdSchema.parse(design.primary)
    const before = (round: unknown) => act(db, editor, 'result.before', { round: roundIdSchema.parse(round), goal })
    expect(await before(rounds[0]?.id)).toEqual({
      rounds: [{ number: 1, series: [{ version: variant, points: [expect.objectContaining({ day: '2026-12-01' })] }] }],
    })
    expect(await before(rounds[1]?.id)).toEqual({ rounds: [] })
    expect(await before('none')).toEqual({ rounds: [] })
    await act(db, publisher, 'test.decide', { test: test1, version: ORIGINAL, reason: 'Enough' })
    expect(await opened()).toMatchObject({ decision: { reason: 'Enough' }, earlier: [{ by: 'the schedule' }] })
  })
})

describe('a split that follows what visitors do', () => {
  test('is worked out when its time comes, in an epoch of the round, and moves nobody', async () => {
    await act(db, publisher, 'test.start', { test: test1, lock: await planned({}, { adaptive: { floor: 1000, every: 60 } }) })
    await counted([1000, 50], [1000, 100])
    await adaptSplits(db, later(59))
    expect((await opened()).rounds[0]?.epochs).toEqual([])
    jest.setSystemTime(later(60))
    await adaptSplits(db, later(60))
    const { rounds, design } = await opened()
    expect(rounds).toMatchObject([{ number: 1, epochs: [{ because: 'the split followed what visitors did' }] }])
    expect(design.arms.map(({ weight }) => weight)).toEqual([1000, 9000])
    expect((await served())[0]?.design.arms.map(({ weight }) => weight)).toEqual([1000, 9000])
    await adaptSplits(db, later(130))
    expect((await opened()).rounds[0]?.epochs).toHaveLength(1)
  })
})
