import { spawn, type ChildProcess } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, openSync, readFileSync, readdirSync } from 'node:fs'
import { join, resolve } from 'node:path'
import * as z from 'zod'
import { buildLook, buildProcesses } from '@/command/build'
import { databasePrograms, ensurePrograms } from '@/command/debian'
import { emptyDatabase, startDatabase, stopDatabase } from '@/command/private-database'
import { processEnvironment, readSettings, siteAddress, spoolOf, type Settings } from '@/command/settings'
import { seedDemo } from '@/demo/seed'
import { tallyAll } from '@/jobs/work'
import { connect, type Database } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { recountAll } from '@/server/ledger/recount'
import { workKilled } from './strength-work'

const DATABASE = 'sprig_bench'
const SENDERS = 200
const FORM_SENDERS = 10
const KILLS = Number(process.env.KILLS ?? 70)
const WORK_KILLS = Number(process.env.WORK_KILLS ?? 30)
const AWAY_SECONDS = Number(process.env.AWAY_SECONDS ?? 60)
const agent = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
const hexId = () => randomBytes(16).toString('hex')
const pause = (milliseconds: number) => new Promise((next) => setTimeout(next, milliseconds))

/** Kills what can be killed, at random moments, while events come in; then asks whether every promise was kept. */
async function run(): Promise<boolean> {
  ensurePrograms(databasePrograms)
  process.env.SPRIG_HOME = resolve('.sprig', 'bench')
  const settings = readSettings({ ...process.env, SPRIG_DB_PORT: '4326', SITE_PORT: '4230', STUDIO_PORT: '4130' })
  await buildLook()
  await buildProcesses()
  await startDatabase(settings, { throwaway: false })
  await emptyDatabase(settings, DATABASE)
  const db = connect(processEnvironment(settings, DATABASE))
  try {
    await migrate(db)
    await seedDemo(db, siteAddress(settings))
    const outcomes = [
      await killed(settings, db),
      await away(settings, db),
      await full(settings),
      await countedAnew(db),
      await workKilled(settings, db, WORK_KILLS, () => sums(db)),
    ]
    return outcomes.every(Boolean)
  } finally {
    await db.destroy()
    await stopDatabase(settings)
  }
}

/** A process of ours that comes back whenever it dies, until it is stopped. */
class Kept {
  private child: ChildProcess | null = null
  private stopping = false

  constructor(
    private readonly settings: Settings,
    private readonly name: 'site' | 'jobs',
    private readonly more: Readonly<Record<string, string>> = {},
  ) {
    this.launch()
  }

  private launch(): void {
    mkdirSync(join(this.settings.home, 'logs'), { recursive: true })
    const log = openSync(join(this.settings.home, 'logs', `${this.name}.log`), 'a')
    this.child = spawn(process.execPath, [`dist/${this.name}.mjs`], {
      // Two hundred senders from one address come too often for a visitor, and are what is to be measured.
      env: { ...processEnvironment(this.settings, DATABASE), SITE_LIMITS: 'off', ...this.more },
      stdio: ['ignore', log, log],
    })
    this.child.once('exit', () => !this.stopping && setTimeout(() => this.stopping || this.launch(), 100))
  }

  kill(): void {
    this.child?.kill('SIGKILL')
  }

  async stop(): Promise<void> {
    this.stopping = true
    const { child } = this
    if (child === null || child.exitCode !== null || child.signalCode !== null) return
    await new Promise((done) => {
      child.once('exit', done)
      child.kill('SIGTERM')
      setTimeout(() => child.kill('SIGKILL'), 5000).unref()
    })
  }
}

function killDatabase({ socket }: Settings): void {
  const file = `${socket}.pid`
  if (existsSync(file)) process.kill(Number(readFileSync(file, 'utf8')), 'SIGKILL')
}

interface Sent {
  /** Every event that was thanked for, in the order in which its sender was thanked. */
  readonly acknowledged: { readonly sender: number; readonly id: string }[]
  readonly answers: Map<number, number>
}

/** Senders that each go on until told to stop; a report that was not thanked for is sent again as it was, like browsers do. */
async function send(settings: Settings, senders: number, sent: Sent, until: () => boolean, rest: number): Promise<void> {
  const one = async (sender: number) => {
    let report: { ids: string[]; body: string; visitor: string } | null = null
    while (!until()) {
      report ??= made()
      const status = await post(settings, report)
      sent.answers.set(status, (sent.answers.get(status) ?? 0) + 1)
      if (status === 204) {
        for (const id of report.ids) sent.acknowledged.push({ sender, id })
        report = null
        if (rest > 0) await pause(rest)
      } else await pause(50)
    }
  }
  await Promise.all(Array.from({ length: senders }, (_, sender) => one(sender)))
}

function made() {
  const ids = Array.from({ length: 3 }, hexId)
  const [page, click, stay] = ids
  const e = [
    { i: page, k: 'page', h: 'letters.example' },
    { i: click, k: 'click', n: ['home-title'] },
    { i: stay, k: 'stay', s: 12 },
  ]
  return { ids, visitor: hexId(), body: JSON.stringify({ d: 'home', e }) }
}

async function post(settings: Settings, { body, visitor }: { body: string; visitor: string }): Promise<number> {
  try {
    const answer = await fetch(`http://127.0.0.1:${settings.sitePort}/collect`, {
      method: 'POST',
      body,
      headers: { 'content-type': 'text/plain', 'user-agent': agent, cookie: `visitor=${visitor}` },
      signal: AbortSignal.timeout(20_000),
    })
    await answer.arrayBuffer()
    return answer.status
  } catch {
    return 0
  }
}

/** People who send the contact form, each letter another one; what was thanked for is kept in `thanked`. */
async function sendForms(settings: Settings, senders: number, thanked: string[], until: () => boolean): Promise<void> {
  const origin = `http://127.0.0.1:${settings.sitePort}`
  const page = await (await fetch(`${origin}/contact`, { headers: { 'user-agent': agent } })).text()
  const action = /action="(\/forms\/[^"]+)"/.exec(page)?.[1]
  if (action === undefined) throw new Error('the contact page has no form')
  const one = async () => {
    while (!until()) {
      const message = hexId()
      const answer = await fetch(origin + action, {
        method: 'POST',
        redirect: 'manual',
        body: new URLSearchParams({ name: 'Kit', email: 'kit@pinemoth.example', message }),
        headers: { 'user-agent': agent, cookie: `visitor=${hexId()}` },
        signal: AbortSignal.timeout(20_000),
      }).catch(() => null)
      await answer?.arrayBuffer().catch(() => undefined)
      if (answer?.status === 303) thanked.push(message)
      await pause(100)
    }
  }
  await Promise.all(Array.from({ length: senders }, one))
}

/** How many of these letters were not kept, and how many more than once. */
async function compareForms(db: Database, thanked: readonly string[]): Promise<{ missing: number; twice: number }> {
  const found: unknown[] = await db('form_entries').select(db.raw("JSON_VALUE(entry, '$.message') AS message"))
  const times = new Map<string, number>()
  for (const row of found) {
    const { message } = z.object({ message: z.string().nullable() }).parse(row)
    times.set(message ?? '', (times.get(message ?? '') ?? 0) + 1)
  }
  const kept = thanked.map((message) => times.get(message) ?? 0)
  return { missing: kept.filter((count) => count === 0).length, twice: kept.filter((count) => count > 1).length }
}

async function isServed(settings: Settings): Promise<boolean> {
  const answer = await fetch(`http://127.0.0.1:${settings.sitePort}/`, { headers: { 'user-agent': agent } }).catch(() => null)
  await answer?.arrayBuffer()
  return answer?.status === 200
}

async function served(settings: Settings): Promise<void> {
  for (let tries = 0; tries < 300 && !(await isServed(settings)); tries++) await pause(100)
}

async function spoolEmpty(settings: Settings): Promise<void> {
  const folders = ['events', 'entries'].map((name) => join(spoolOf(settings, DATABASE), name))
  const waits = () =>
    folders.some((folder) => existsSync(folder) && readdirSync(folder).some((name) => /^\d+\.ndjson$/.test(name)))
  for (let tries = 0; tries < 600 && waits(); tries++) await pause(200)
}

async function killed(settings: Settings, db: Database): Promise<boolean> {
  const site = new Kept(settings, 'site')
  // Two share the work; when one dies, the other takes over what it held.
  const jobs = [new Kept(settings, 'jobs'), new Kept(settings, 'jobs')]
  await served(settings)
  const before = await rows(db)
  const sent: Sent = { acknowledged: [], answers: new Map() }
  let over = false
  const thanked: string[] = []
  const sending = Promise.all([
    send(settings, SENDERS, sent, () => over, 20),
    sendForms(settings, FORM_SENDERS, thanked, () => over),
  ])
  const kills = { site: 0, database: 0, both: 0, jobs: 0 }
  for (let kill = 0; kill < KILLS; kill++) {
    await pause(300 + Math.random() * 1500)
    const what = (['site', 'database', 'both'] as const)[Math.floor(Math.random() * 3)] ?? 'site'
    kills[what]++
    if (what !== 'site') killDatabase(settings)
    if (what !== 'database') site.kill()
    if (Math.random() < 0.6) {
      kills.jobs++
      jobs[kill % 2]?.kill()
    }
    if (what !== 'site') {
      await pause(Math.random() * 1000)
      await startDatabase(settings, { throwaway: false })
    }
  }
  await served(settings)
  await pause(2000)
  over = true
  await sending
  await spoolEmpty(settings)
  await site.stop()
  await Promise.all(jobs.map((one) => one.stop()))
  const ids = sent.acknowledged.map(({ id }) => id)
  const { missing } = await compare(db, ids)
  const after = await rows(db)
  const twice = await doubles(db)
  const asides = setAside(settings)
  const forms = await compareForms(db, thanked)
  console.log(
    `kills: ${kills.site} of the site, ${kills.database} of the database, ${kills.both} of both, ${kills.jobs} of one of two jobs processes, with ${SENDERS} senders: ${ids.length} events were acknowledged, ${after - before} rows written, ${missing} missing, ${twice} twice, ${asides} set aside`,
  )
  console.log(`kills: answers ${[...sent.answers].map(([status, times]) => `${status || 'none'}: ${times}`).join(', ')}`)
  console.log(
    `kills: ${thanked.length} form entries by ${FORM_SENDERS} people were thanked for, ${forms.missing} missing, ${forms.twice} twice`,
  )
  return missing + twice + asides + forms.missing + forms.twice === 0
}

async function away(settings: Settings, db: Database): Promise<boolean> {
  const site = new Kept(settings, 'site')
  await served(settings)
  const sent: Sent = { acknowledged: [], answers: new Map() }
  let over = false
  const sending = send(settings, 20, sent, () => over, 50)
  await pause(1000)
  killDatabase(settings)
  let pages = 0
  let broken = 0
  for (const until = Date.now() + AWAY_SECONDS * 1000; Date.now() < until; await pause(100)) {
    pages++
    if (!(await isServed(settings))) broken++
  }
  await startDatabase(settings, { throwaway: false })
  await pause(1000)
  over = true
  await sending
  await spoolEmpty(settings)
  await site.stop()
  const ids = sent.acknowledged.map(({ id }) => id)
  const { missing, place } = await compare(db, ids)
  const last = new Map<number, number>()
  let disorder = 0
  for (const { sender, id } of sent.acknowledged) {
    const at = place.get(id) ?? 0
    if (at < (last.get(sender) ?? 0)) disorder++
    last.set(sender, at)
  }
  console.log(
    `away: database gone for ${AWAY_SECONDS} s: ${pages} pages asked for, ${broken} not served; ${ids.length} events acknowledged, ${missing} missing, ${disorder} out of their sender's order; answers ${[...sent.answers].map(([status, times]) => `${status || 'none'}: ${times}`).join(', ')}`,
  )
  return broken === 0 && missing === 0 && disorder === 0
}

/** A spool of a few kilobytes, and no database. */
async function full(settings: Settings): Promise<boolean> {
  const site = new Kept(settings, 'site', { SITE_SPOOL_LIMIT: '0.02' })
  await served(settings)
  await pause(1000)
  killDatabase(settings)
  const statuses = new Map<string, number>()
  for (let tries = 0; tries < 200; tries++) {
    const { body, visitor } = made()
    const answer = await fetch(`http://127.0.0.1:${settings.sitePort}/collect`, {
      method: 'POST',
      body,
      headers: { 'content-type': 'text/plain', 'user-agent': agent, cookie: `visitor=${visitor}` },
    })
    const line = `${answer.status} ${answer.headers.get('retry-after') === null ? 'without' : 'with'} Retry-After`
    statuses.set(line, (statuses.get(line) ?? 0) + 1)
  }
  const isStillServed = await isServed(settings)
  console.log(
    `full: ${[...statuses].map(([line, times]) => `${line}: ${times}`).join(', ')}; pages ${isStillServed ? 'still served' : 'NOT served'}`,
  )
  await startDatabase(settings, { throwaway: false })
  await pause(1000)
  await spoolEmpty(settings)
  await site.stop()
  const lines = [...statuses.keys()].sort()
  return isStillServed && lines.join('; ') === '204 without Retry-After; 503 with Retry-After'
}

const totals = z.object({ total: z.coerce.number() })

async function rows(db: Database): Promise<number> {
  return totals.parse(await db('events').where({ crowd: 0 }).count({ total: '*' }).first()).total
}

async function doubles(db: Database): Promise<number> {
  const found: unknown = await db.raw('SELECT COUNT(*) - COUNT(DISTINCT crowd, id) AS total FROM events')
  return z.tuple([z.array(totals), z.unknown()]).parse(found)[0][0]?.total ?? 0
}

/** Which of the acknowledged events are there, and in which order they were written. */
async function compare(db: Database, ids: readonly string[]): Promise<{ missing: number; place: Map<string, number> }> {
  const place = new Map<string, number>()
  for (let at = 0; at < ids.length; at += 2000) {
    const found: unknown[] = await db('events')
      .where({ crowd: 0 })
      .whereIn(
        'id',
        ids.slice(at, at + 2000).map((id) => Buffer.from(id, 'hex')),
      )
      .select('id', 'seq')
    for (const row of found) {
      const { id, seq } = z.object({ id: z.instanceof(Buffer), seq: z.number() }).parse(row)
      place.set(id.toString('hex'), seq)
    }
  }
  return { missing: ids.filter((id) => !place.has(id)).length, place }
}

function setAside(settings: Settings): number {
  const file = join(spoolOf(settings, DATABASE), 'events', 'set-aside.ndjson')
  return existsSync(file) ? readFileSync(file, 'utf8').split('\n').length - 1 : 0
}

const tables = ['tallies', 'segment_tallies', 'daily', 'call_daily', 'firsts', 'orders', 'letter_counts', 'letter_sends'] as const

/**
 * What was counted on the way, with all its interruptions, against counting every event again; what is kept of visitors who
 * were forgotten meanwhile is where both begin.
 */
async function countedAnew(db: Database): Promise<boolean> {
  await tallyAll(db)
  const before = await sums(db)
  await recountAll(db, () => undefined)
  const after = await sums(db)
  const differ = tables.filter((table) => before[table] !== after[table])
  console.log(
    `rebuild: ${tables.map((table) => `${table} ${before[table]?.split('\n').length ?? 0} rows`).join(', ')}; ${differ.length === 0 ? 'equal to the unit' : `DIFFERENT: ${differ.join(', ')}`}`,
  )
  return differ.length === 0
}

const isOfSums = (row: Record<string, unknown>) => 'day' in row && !('visitor' in row)
/** A row that was taken back to nothing says the same as none. */
const saysSomething = (row: Record<string, unknown>) =>
  Object.entries(row).some(([name, value]) => name !== 'crowd' && typeof value === 'number' && Math.abs(value) > 1e-6)

async function sums(db: Database): Promise<Record<string, string>> {
  const found: Record<string, string> = {}
  for (const table of tables) {
    const all: Record<string, unknown>[] = await db(table)
    found[table] = all
      .filter((row) => !isOfSums(row) || saysSomething(row))
      .map((row) => JSON.stringify(row))
      .sort()
      .join('\n')
  }
  return found
}

run().then(
  (kept) => process.exit(kept ? 0 : 1),
  (reason) => {
    console.error(reason)
    process.exit(1)
  },
)
