import { spawn, type ChildProcess } from 'node:child_process'
import { createHash } from 'node:crypto'
import type { Knex } from 'knex'
import * as z from 'zod'
import { buildProcesses } from '@/command/build'
import { programs } from '@/command/processes'
import { processEnvironment, type Settings } from '@/command/settings'
import { roundSchema } from '@/core/experiment'
import { goalSchema } from '@/core/goals'
import type { DocumentId, NodeId, RoundId, VersionId } from '@/core/ids'
import { inTransaction, type Database } from '@/server/database/connect'
import { forgetCounts } from '@/server/ledger/count'
import { writeEvents } from '@/server/stores/events'
import { createGoal } from '@/server/stores/goals'
import { throughTheSite } from './collect'
import { seededDocument } from './ledger-site'
import { bruteForce } from './brute-force'
import { DATABASE, withOwnDatabase } from './own-database'
import type { StampedEvent } from '@/core/events'

/*
 * Many visitors whose events come late and out of order: counted by the processes that count, and by a few lines that know
 * nothing but the rules. The numbers must be the same to the unit; how fast it goes is said beside how fast events are
 * written, and for one process beside two.
 */
const EVENTS = Number(process.env.EVENTS ?? 1_000_000)
const EACH = 10
const LATE = 0.05
const SEED = 20_260_302
const DAY = 86_400_000
const start = Date.parse('2026-03-02T00:00:00Z')

export const round = 'r-bench' as RoundId
const versions = ['original', 'bold'] as VersionId[]
const goals = [
  goalSchema.parse({ id: 'reserved', name: 'Reserved', wiring: { kind: 'page', document: 'done' }, worth: 3 }),
  goalSchema.parse({
    id: 'pressed',
    name: 'Pressed',
    wiring: { kind: 'click', document: 'home', node: 'hero' },
    counts: 'everyTime',
  }),
  goalSchema.parse({ id: 'bought', name: 'Bought', wiring: { kind: 'order' }, worthFrom: 'reported', counts: 'everyTime' }),
  goalSchema.parse({ id: 'way', name: 'The way', wiring: { kind: 'steps', goals: ['pressed', 'reserved'] }, worth: 7 }),
]

/** Mulberry32: the same events in every run. */
function lots(seed: number): () => number {
  let state = seed
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
  }
}

/** What one visitor does within three weeks, in the order in which it happens. */
function happenings(number: number, lot: () => number): StampedEvent[] {
  // As evenly spread as real ones are: they are divided between processes by their first byte.
  const visitor = createHash('md5').update(String(number)).digest('hex')
  let at = start + Math.floor(lot() * 21 * DAY)
  const version = versions[number % 2] as VersionId
  let made = 0
  const event = (happening: object): StampedEvent =>
    ({
      id: `${visitor.slice(10)}${(made++).toString(16).padStart(10, '0')}`,
      crowd: 0,
      visitor,
      at: new Date(at),
      ...happening,
    }) as StampedEvent
  const shown = (document: string) =>
    event({
      kind: 'page',
      document: document as DocumentId,
      path: `/${document}`,
      pageType: 'Page',
      arrival: { source: 'search', device: 'phone' },
    })
  const events = [shown('home'), event({ kind: 'assigned', round, version })]
  while (events.length < EACH) {
    // A pause now and then, so that some of it is a visit of its own.
    at += 1000 + Math.floor(lot() * (lot() < 0.2 ? 3 * DAY : 60_000))
    const what = lot()
    if (what < 0.2) events.push(event({ kind: 'seen', round, version }))
    else if (what < 0.5) events.push(shown(lot() < 0.25 ? 'done' : 'home'))
    else if (what < 0.8)
      events.push(
        event({ kind: 'click', document: 'home' as DocumentId, nodes: [lot() < 0.5 ? 'hero' : 'foot'] as NodeId[], markers: [] }),
      )
    else {
      const order = `${number}-${events.length}`
      const value = 5 + Math.floor(lot() * 50)
      events.push(event({ kind: 'order', order, value }))
      if (lot() < 0.3) {
        at += 3_600_000
        events.push(event({ kind: 'order', order, value: -Math.ceil(value * lot() * 1.2) }))
      }
    }
  }
  return events
}

/** As they arrive: some of them long after it happened, in no order. */
function arrivals(visitors: number, late: number): StampedEvent[] {
  const lot = lots(SEED)
  const all = Array.from({ length: visitors }, (_, number) => happenings(number, lot)).flat()
  const keyed = all.map((event) => ({ event, at: event.at.getTime() + (lot() < late ? lot() * 10 * DAY : lot() * 50) }))
  return keyed.sort((a, b) => a.at - b.at).map(({ event }) => event)
}

async function run(): Promise<boolean> {
  await buildProcesses()
  return withOwnDatabase({ folder: 'bench-ledger', port: 4328 }, async (db, settings) => {
    await fill(db)
    return measure(db, settings)
  })
}

async function fill(db: Database): Promise<void> {
  await seededDocument(db, round)
  for (const goal of goals) await createGoal(db, goal, 'bench', true)
  await db('rounds').update({
    started_at: new Date(start),
    snapshot: JSON.stringify(
      roundSchema.parse({
        id: round,
        test: 't-1',
        number: 1,
        design: {
          name: 'Bench',
          problem: '',
          change: '',
          expected: '',
          document: 'home',
          node: 'hero',
          arms: versions.map((version) => ({ version, weight: 5000 })),
          share: 10_000,
          primary: 'reserved',
          watched: ['pressed', 'bought', 'way'],
          guards: [],
          smallestEffect: 0.05,
        },
        versions: [{ id: 'bold', name: 'Bold', edits: [] }],
        goals,
        salt: 's',
        plannedTotal: 100_000,
      }),
    ),
  })
}

async function measure(db: Database, settings: Settings): Promise<boolean> {
  const events = arrivals(Math.ceil(EVENTS / EACH), LATE)
  const written = await timed(() => writeAll(db, events))
  const perSecond = (seconds: number) => Math.round(events.length / seconds)
  const one = await counted(db, settings, 1)
  const wanted = bruteForce(events, { round, goals })
  const same = await compare(db, wanted)
  const alone = await sums(db)
  await inTransaction(db, forgetCounts)
  const two = await counted(db, settings, 2)
  const together = await sums(db)
  const alike = together === alone
  if (!alike) await sayApart(db, alone, together)
  console.log(
    `ledger: ${events.length.toLocaleString('en')} events, ${LATE * 100}% late: counted / written ${(written / one).toFixed(2)}  (${perSecond(one).toLocaleString('en')} and ${perSecond(written).toLocaleString('en')} a second)`,
  )
  console.log(`ledger: two processes / one ${(one / two).toFixed(2)}  (${perSecond(two).toLocaleString('en')} a second)`)
  console.log(
    `ledger: ${same ? 'equal to the count by the rules alone, to the unit' : 'DIFFERENT from the count by the rules alone'}`,
  )
  await sayDivided(db, settings)
  await sayBesideTakenIn(db, settings)
  await sayLag(db, settings)
  console.log(`ledger: by two processes ${alike ? 'the same rows as by one' : 'OTHER rows than by one'}`)
  return same && alike
}

async function until(isSo: () => Promise<boolean>): Promise<void> {
  while (!(await isSo())) await new Promise((next) => setTimeout(next, 50))
}

/** Processes that count, each with its share: starting is not counting. */
async function sharing(db: Database, settings: Settings, processes: number): Promise<ChildProcess[]> {
  const env = { ...processEnvironment(settings, DATABASE), NODE_ENV: 'production' as const }
  const running = Array.from({ length: processes }, () =>
    spawn('node', programs.jobs, { env, stdio: ['ignore', 'ignore', 'inherit'] }),
  )
  await until(async () => (await sharers(db)) === processes)
  return running
}

async function ended(child: ChildProcess): Promise<void> {
  const gone = new Promise((done) => child.once('exit', done))
  child.kill('SIGTERM')
  await gone
}

/** Processes that hold visitors. */
async function sharers(db: Database): Promise<number> {
  return (
    await db('leases').where('name', 'like', 'shard-%').where('expires_at', '>', db.raw('UTC_TIMESTAMP(3)')).distinct('owner')
  ).length
}

async function numberOf(query: Knex.QueryBuilder): Promise<number> {
  return z.object({ total: z.coerce.number() }).parse(await query.count({ total: '*' }).first()).total
}

/** By processes as they run in earnest. @returns the seconds that all of it takes at the speed that was seen */
async function counted(db: Database, settings: Settings, processes: number): Promise<number> {
  const environment = { ...processEnvironment(settings, DATABASE), NODE_ENV: 'production' as const }
  const running: ChildProcess[] = []
  for (let index = 0; index < processes; index++)
    running.push(spawn('node', programs.jobs, { env: environment, stdio: ['ignore', 'ignore', 'inherit'] }))
  // Starting is not counting: from when each of them has its share, and has counted some of it.
  await until(
    async () => (await sharers(db)) === processes && (await db('events').where({ tallied: 1 }).first('seq')) !== undefined,
  )
  const already = await numberOf(db('events').where({ tallied: 1 }))
  const began = performance.now()
  const all = await numberOf(db('events'))
  await until(async () => (await db('events').where({ tallied: 0 }).first('seq')) === undefined)
  const seconds = (((performance.now() - began) / 1000) * all) / (all - already)
  await Promise.all(running.map(ended))
  return seconds
}

/** Of browsers a report has two to four events: a page that was shown with what was seen on it, a press, what was done until leaving. */
const A_REPORT = 3
const IN_ORDER = 100_000
const TURNS = 5

/** Whether one process counts what one site process takes in, where events come in their order, as nearly all do: one after the other, so often. */
async function sayBesideTakenIn(db: Database, settings: Settings): Promise<void> {
  const turns: { readonly counts: number; readonly takes: number }[] = []
  for (let turn = 0; turn < TURNS; turn++) {
    await inTransaction(db, forgetCounts)
    await db('events').truncate()
    const { rate: takes } = await throughTheSite(db, A_REPORT)
    await db('events').truncate()
    const events = arrivals(IN_ORDER / EACH, 0)
    await writeAll(db, events)
    turns.push({ counts: events.length / (await counted(db, settings, 1)), takes })
  }
  turns.sort((one, other) => one.counts / one.takes - other.counts / other.takes)
  const { counts, takes } = turns[Math.floor(TURNS / 2)] ?? { counts: Number.NaN, takes: Number.NaN }
  console.log(
    `ledger: counted in their order / taken in by one site process, ${A_REPORT} events a report, the middle of ${TURNS}: ${(counts / takes).toFixed(2)}  (${Math.round(counts)} and ${Math.round(takes)} a second; aim 1.00)`,
  )
}

async function writeAll(db: Database, events: readonly StampedEvent[]): Promise<void> {
  for (let from = 0; from < events.length; from += 1000) await writeEvents(db, events.slice(from, from + 1000))
}

/** Of a core to each, so that there are cores enough for two of them, the database and whoever watches. */
const SHARE = 0.35
const SECONDS = 12

/** Two processes beside one where processors are not what both wait for: each is held to a part of one. */
async function sayDivided(db: Database, settings: Settings): Promise<void> {
  const rates: number[] = []
  for (const processes of [1, 2]) {
    await inTransaction(db, forgetCounts)
    const running = await sharing(db, settings, processes)
    const letGo = holdBack(running)
    // The first moments are for what is made ready once.
    await new Promise((next) => setTimeout(next, 3000))
    const [already, began] = [await numberOf(db('events').where({ tallied: 1 })), performance.now()]
    await new Promise((next) => setTimeout(next, SECONDS * 1000))
    const done = (await numberOf(db('events').where({ tallied: 1 }))) - already
    rates.push((done * 1000) / (performance.now() - began))
    letGo()
    await Promise.all(running.map(ended))
  }
  const [one = Number.NaN, two = Number.NaN] = rates
  console.log(
    `ledger: two processes / one, each held to ${SHARE} of a core: ${(two / one).toFixed(2)}  (${Math.round(two).toLocaleString('en')} and ${Math.round(one).toLocaleString('en')} a second; aim 1.70)`,
  )
}

/** Stops and continues them, many times a second. @returns lets them go on */
function holdBack(running: readonly ChildProcess[]): () => void {
  const period = 40
  let turn = 0
  const timer = setInterval(() => {
    turn = (turn + 1) % period
    running.forEach((child, index) => {
      const own = (turn + (index * period) / running.length) % period
      if (own === 0) child.kill('SIGCONT')
      if (own === Math.round(period * SHARE)) child.kill('SIGSTOP')
    })
  }, 1)
  return () => {
    clearInterval(timer)
    for (const child of running) child.kill('SIGCONT')
  }
}

/** How long after it was written an event is in the rows, where they come as steadily as on a busy site. */
async function sayLag(db: Database, settings: Settings): Promise<void> {
  const [each, groups, apart] = [25, 300, 50]
  const lot = lots(SEED + 1)
  const events = Array.from({ length: (each * groups) / EACH }, (_, number) => happenings(1_000_000_000 + number, lot)).flat()
  const [jobs] = await sharing(db, settings, 1)
  const waiting = new Map<number, number>()
  const lags: number[] = []
  let written = false
  const watch = until(async () => {
    const { first } = z
      .object({ first: z.number().nullable() })
      .parse(await db('events').where({ tallied: 0 }).min({ first: 'seq' }).first())
    for (const [seq, at] of waiting)
      if (first === null || seq < first) {
        lags.push(performance.now() - at)
        waiting.delete(seq)
      }
    return written && waiting.size === 0
  })
  for (let group = 0; group < groups; group++) {
    await writeEvents(db, events.slice(group * each, (group + 1) * each))
    const at = performance.now()
    const { last } = z.object({ last: z.number() }).parse(await db('events').max({ last: 'seq' }).first())
    waiting.set(last, at)
    await new Promise((next) => setTimeout(next, apart))
  }
  written = true
  await watch
  if (jobs !== undefined) await ended(jobs)
  const sorted = lags.sort((one, other) => one - other)
  const part = (share: number) => Math.round(sorted[Math.floor(share * (sorted.length - 1))] ?? Number.NaN)
  console.log(
    `ledger: from written to counted at ${(each * 1000) / apart} a second: half within ${part(0.5)} ms, 99% within ${part(0.99)} ms`,
  )
}

/** What differs, and whether anything was set aside. */
async function sayApart(db: Database, one: string, two: string): Promise<void> {
  const rows = (text: string) => new Set((JSON.parse(text) as object[][]).flat().map((row) => JSON.stringify(row)))
  const [first, second] = [rows(one), rows(two)]
  for (const row of [...first].filter((text) => !second.has(text)).slice(0, 5)) console.log(`ledger: by one: ${row}`)
  for (const row of [...second].filter((text) => !first.has(text)).slice(0, 5)) console.log(`ledger: by two: ${row}`)
  console.log(
    `ledger: set aside ${String((await db('events').whereNotIn('tallied', [0, 1]).count({ total: '*' }).first())?.total)}`,
  )
}

async function timed(work: () => Promise<void>): Promise<number> {
  const began = performance.now()
  await work()
  return (performance.now() - began) / 1000
}

async function sums(db: Database): Promise<string> {
  // A row that was taken back to nothing says the same as none.
  const tallies = await db('tallies').whereRaw('assigned + conversions + visits <> 0').orderBy(['goal_id', 'version', 'day'])
  const segments = await db('segment_tallies')
    .whereRaw('conversions + visits <> 0')
    .orderBy(['goal_id', 'version', 'day', 'trait', 'trait_value'])
  const daily = await db('daily').where('times', '<>', 0).orderBy(['subject', 'day'])
  return JSON.stringify([tallies, segments, daily])
}

async function compare(db: Database, wanted: ReadonlyMap<string, number>): Promise<boolean> {
  const found = new Map<string, number>()
  const tallies = (await db('tallies').groupBy('goal_id', 'version').select({ goal: 'goal_id', version: 'version' }).sum({
    assigned: 'assigned',
    exposed: 'exposed',
    converters: 'converters',
    conversions: 'conversions',
    worth: 'worth',
    worthSquared: 'worth_squared',
    visits: 'visits',
  })) as Record<string, unknown>[]
  for (const { goal, version, ...values } of tallies)
    for (const [name, value] of Object.entries(values)) found.set(`${String(goal)} ${String(version)} ${name}`, Number(value))
  const daily = (await db('daily')
    .whereIn('subject', ['*', 'u:*', 'v:*', 'e:*', 'g:reserved', 'g:bought', 'g:way'])
    .groupBy('subject')
    .select('subject')
    .sum({ times: 'times', visitors: 'visitors', worth: 'worth' })) as Record<string, unknown>[]
  for (const { subject, ...values } of daily)
    for (const [name, value] of Object.entries(values)) found.set(`${String(subject)} ${name}`, Number(value))
  const apart = [...wanted].filter(([name, value]) => Math.abs((found.get(name) ?? 0) - value) > 0.001)
  for (const [name, value] of apart.slice(0, 10)) console.log(`ledger: ${name}: ${found.get(name) ?? 0} instead of ${value}`)
  return apart.length === 0
}

run().then(
  (well) => process.exit(well ? 0 : 1),
  (reason) => {
    console.error(reason)
    process.exit(1)
  },
)
