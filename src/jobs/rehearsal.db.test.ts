import type { Database } from '@/server/database/connect'
import { goLive } from '@/server/database/go-live'
import { nextRehearsal, rehearsalStatus } from '@/server/stores/rehearsals'
import { act, attempt, editor, freshDatabase, publisher, readyTest } from '@/server/test-database'
import type { RoundId, TestId, VersionId } from '@/core/ids'
import { readSettings, writeSettings } from '@/server/stores/settings'
import { segmentsOf } from '@/server/stores/results'
import { rehearseOn } from './rehearse'
import { tallyAll } from './work'

let db: Database
let test1: TestId
let variant: VersionId
beforeAll(async () => {
  db = await freshDatabase()
  const made = await readyTest(db, 'Other')
  test1 = made.test
  variant = made.variant
})
afterAll(() => db.destroy())

const plan = (visitors: number) =>
  ({
    visitors,
    days: 7,
    seed: 5,
    rates: [
      { version: 'original', rate: 0.1 },
      { version: variant, rate: 0.2 },
    ],
  }) as never
const tallies = (crowd: number) =>
  db('tallies')
    .where({ crowd })
    .orderBy(['goal_id', 'version', 'day'])
    .select('goal_id', 'version', 'day', 'assigned', 'exposed', 'converters')

test('a draft is rehearsed as it is now, and has no round of it and no count', async () => {
  const { id } = await act(db, editor, 'rehearsal.start', { test: test1, plan: plan(3000) })
  await rehearseOn(db, () => tallyAll(db))
  expect(await rehearsalStatus(db, id)).toBe('done')
  const found = await act(db, editor, 'result.read', { test: test1, crowd: id })
  expect(found?.rates.reduce((sum, { exposed }) => sum + exposed, 0)).toBe(3000)
  expect(found?.sentence).toMatch(/‘Variant 1’ is better/)
  expect(await act(db, editor, 'test.open', { test: test1 })).toMatchObject({ status: 'draft', rounds: [] })
  expect(await act(db, editor, 'result.read', { test: test1, crowd: 0 })).toBeNull()
  expect(await tallies(0)).toEqual([])
})

test('of a test for some hours those take part who come then, by the clock of the site', async () => {
  const { design, lock } = await act(db, editor, 'test.open', { test: test1 })
  const evening = { ...design, audience: { kind: 'hours' as const, from: 18, to: 22 } }
  const { lock: kept } = await act(db, editor, 'test.save', { test: test1, lock, design: evening })
  const settings = await readSettings(db)
  await goLive(db, (trx) => writeSettings(trx, { ...settings, timeZone: 'Asia/Tokyo' }, 'Edna'))
  const { id } = await act(db, editor, 'rehearsal.start', { test: test1, plan: plan(2000) })
  await rehearseOn(db, () => tallyAll(db))
  const rows: { hour: number }[] = await db('events')
    .where({ crowd: id, kind: 'assigned' })
    .select(db.raw('DISTINCT HOUR(at) AS hour'))
    .orderBy('hour')
  // Tokyo is nine hours ahead, at any time of the year.
  expect(rows.map(({ hour }) => hour)).toEqual([9, 10, 11, 12])
  await goLive(db, (trx) => writeSettings(trx, settings, 'Edna'))
  await act(db, editor, 'test.save', { test: test1, lock: kept, design })
})

test('a draft comes through its own pages: served, reported and counted as visitors would be, and apart from them', async () => {
  const asked = { ...(plan(300) as object), through: 'pages', mix: { returning: 0.2, bots: 0.1 } } as never
  const { id } = await act(db, editor, 'rehearsal.start', { test: test1, plan: asked })
  await rehearseOn(db, () => tallyAll(db))
  const { rehearsals } = await act(db, editor, 'rehearsal.list', { test: test1 })
  const own = rehearsals.find((one) => one.id === id)
  expect(own).toMatchObject({ status: 'done', sent: 300, message: '' })
  const bots = own?.found?.bots ?? 0
  expect(bots).toBeGreaterThan(10)
  expect(own?.found).toMatchObject({ wrong: [] })
  const found = await act(db, editor, 'result.read', { test: test1, crowd: id })
  expect(found?.rates.reduce((sum, { exposed }) => sum + exposed, 0)).toBe(300 - bots)
  expect(found?.rates.reduce((sum, { converters }) => sum + converters, 0)).toBeGreaterThan(15)
  expect(await db('events').where({ crowd: 0 }).first()).toBeUndefined()
  expect(await db('form_entries').first()).toBeUndefined()

  const tooMany = { ...(plan(50_000) as object), through: 'pages' } as never
  expect((await attempt(db, editor, 'rehearsal.start', { test: test1, plan: tooMany })).status).toBe(400)
})

test('who comes is as it was set, and so is how often they reach what is counted besides', async () => {
  const { design, lock } = await act(db, editor, 'test.open', { test: test1 })
  const { id: goal } = await act(db, editor, 'goal.create', { name: 'Asked', wiring: { kind: 'event', event: 'asked' } })
  const { lock: begun } = await act(db, editor, 'goal.open', { goal })
  await act(db, publisher, 'goal.publish', { goal, lock: begun })
  await act(db, editor, 'test.save', { test: test1, lock, design: { ...design, watched: [goal] } })
  const mix = {
    devices: { phone: 1, tablet: 0 },
    sources: { search: 0.5, newsletter: 0.5, elsewhere: 0 },
    ...{ region: { code: 'XP-LO', share: 1 }, returning: 0.5, bots: 0.1 },
  }
  const rates = [
    { version: 'original', rate: 0.1, others: [{ goal, rate: 0.5 }] },
    { version: variant, rate: 0.1 },
  ]
  const { id } = await act(db, editor, 'rehearsal.start', {
    test: test1,
    plan: { ...(plan(2000) as object), rates, mix } as never,
  })
  await rehearseOn(db, () => tallyAll(db))
  const round = (await db('rehearsals').where({ id }).first('round_id')) as { round_id: RoundId }
  const counted = await segmentsOf(db, id, round.round_id, design.primary ?? ('' as never))
  const of = (trait: string) => new Set(counted.filter((row) => row.trait === trait).map(({ value }) => value))
  expect([of('device'), of('source'), of('region')]).toEqual([
    ...[new Set(['phone']), new Set(['search', 'newsletter']), new Set(['XP-LO'])],
  ])
  expect(of('returning')).toEqual(new Set(['new', 'returning']))
  const found = await act(db, editor, 'result.read', { test: test1, crowd: id })
  const [original, other] = found?.rates ?? []
  const came = (original?.exposed ?? 0) + (other?.exposed ?? 0)
  expect(came).toBeGreaterThan(1700)
  expect(came).toBeLessThan(1900)
  const besides = (await db('tallies')
    .where({ crowd: id, goal_id: goal })
    .groupBy('version')
    .select('version')
    .sum({ converters: 'converters' })) as { version: string; converters: number }[]
  expect(besides.filter(({ converters }) => Number(converters) > 0).map(({ version }) => version)).toEqual(['original'])
  expect(Number(besides.find(({ version }) => version === 'original')?.converters) / (original?.exposed ?? 1)).toBeCloseTo(0.5, 1)
})

test('one that was interrupted on its way through the pages says so, and sends nobody twice', async () => {
  const { id } = await act(db, editor, 'rehearsal.start', {
    test: test1,
    plan: { ...(plan(300) as object), through: 'pages' } as never,
  })
  await db('rehearsals').where({ id }).update({ status: 'running', sent: 100 })
  await rehearseOn(db, () => tallyAll(db))
  expect(await rehearsalStatus(db, id)).toBe('failed')
  expect(await tallies(id)).toEqual([])
})

test('needs a goal, and a rate for each of its versions', async () => {
  const { design, lock: before } = await act(db, editor, 'test.open', { test: test1 })
  const { lock } = await act(db, editor, 'test.save', { test: test1, lock: before, design: { ...design, primary: null } })
  expect((await attempt(db, editor, 'rehearsal.start', { test: test1, plan: plan(1000) })).status).toBe(422)
  await act(db, editor, 'test.save', { test: test1, lock, design })
  await act(db, publisher, 'test.start', { test: test1, lock: (await act(db, publisher, 'test.open', { test: test1 })).lock })
  const lacking = {
    ...(plan(1000) as object),
    rates: [
      { version: 'original', rate: 0.1 },
      { version: 'another', rate: 0.2 },
    ],
  } as never
  expect((await attempt(db, editor, 'rehearsal.start', { test: test1, plan: lacking })).status).toBe(400)
})

test('one that was interrupted goes on where it was, and ends with the same counts as one that was not', async () => {
  const whole = await act(db, editor, 'rehearsal.start', { test: test1, plan: plan(2500) })
  await rehearseOn(db, () => tallyAll(db))
  expect(await rehearsalStatus(db, whole.id)).toBe('done')

  const broken = await act(db, editor, 'rehearsal.start', { test: test1, plan: plan(2500) })
  await rehearseOn(db, () => tallyAll(db))
  // As if the process had died after its events were written and before that was noted.
  await db('rehearsals').where({ id: broken.id }).update({ status: 'running', sent: 1000 })
  await rehearseOn(db, () => tallyAll(db))
  expect(await rehearsalStatus(db, broken.id)).toBe('done')
  expect(await tallies(broken.id)).toEqual(await tallies(whole.id))
})

test('one that is cancelled sends nobody more', async () => {
  const { id } = await act(db, editor, 'rehearsal.start', { test: test1, plan: plan(50_000) })
  const going = rehearseOn(db, () => tallyAll(db))
  await new Promise((next) => setTimeout(next, 300))
  await act(db, editor, 'rehearsal.cancel', { id })
  await going
  const { rehearsals } = await act(db, editor, 'rehearsal.list', { test: test1 })
  expect(rehearsals[0]).toMatchObject({ id, status: 'cancelled' })
  expect(rehearsals[0]?.sent).toBeLessThan(50_000)
  expect(await nextRehearsal(db)).toBeNull()
})
