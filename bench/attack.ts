import { spawn, type ChildProcess } from 'node:child_process'
import { mkdirSync, openSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { join, resolve } from 'node:path'
import * as z from 'zod'
import { build } from '@/command/build'
import { databasePrograms, ensurePrograms } from '@/command/debian'
import { emptyDatabase, startDatabase, stopDatabase } from '@/command/private-database'
import { processEnvironment, readSettings, type Settings } from '@/command/settings'
import { contract, type ActionName, type Role } from '@/contract/contract'
import { cloudEventSchema, outsideReportSchema } from '@/core/goals'
import { shortened } from '@/core/text'
import { demoAccounts, seedSite } from '@/demo/seed'
import { createAccount } from '@/server/accounts/accounts'
import { openSession } from '@/server/accounts/sessions'
import { connect, type Database } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { reportTypes } from '@/site/outside/read-reports'
import { reportSchema } from '@/core/events'
import { pair } from './attack-pairs'
import { slowReaders } from './attack-readers'
import { bent, lotsFrom, nastyTexts, sample, type JsonSchema, type Lots } from './bent'
import { bentFile, goodFiles } from './bent-files'

const DATABASE = 'sprig_bench'
const REQUESTS = Number(process.env.REQUESTS ?? 30_000)
const GROUP = 60
const SLOW = 2000
const agentName = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
/** What changes by itself, or is there to write down that somebody was refused. */
const besides = new Set([
  'audit_trail',
  'sign_in_failures',
  'sessions',
  'heartbeats',
  'site_processes',
  // Counted where a page was shown, and written down seconds later.
  'left_out',
  'accounts',
  // A link to a new password is made and sent after the answer, which is the same for everybody.
  'account_links',
  'kept_mails',
  'migrations',
  'migrations_lock',
])

interface Shot {
  readonly where: 'site' | 'studio'
  readonly method: string
  readonly path: string
  readonly headers: Readonly<Record<string, string>>
  readonly body: Buffer | null
}

interface Outcome {
  readonly shot: Shot
  /** 0 where no answer came. */
  readonly status: number
  readonly why: string
  readonly milliseconds: number
}

/** Sends bent requests to every route of site and studio, as everybody, and counts what must never be. */
async function run(): Promise<boolean> {
  ensurePrograms(databasePrograms)
  process.env.SPRIG_HOME = resolve('.sprig', 'bench')
  const settings = readSettings({ ...process.env, SPRIG_DB_PORT: '4326', SITE_PORT: '4230', STUDIO_PORT: '4130' })
  await build({ force: false })
  await startDatabase(settings, { throwaway: true })
  await emptyDatabase(settings, DATABASE)
  const db = connect(processEnvironment(settings, DATABASE))
  const programs = new Programs(settings)
  try {
    await migrate(db)
    await seedSite(db)
    for (const account of demoAccounts) await createAccount(db, account)
    await programs.begin()
    return await attack(settings, db, programs)
  } finally {
    await programs.end()
    await db.destroy()
    await stopDatabase(settings)
  }
}

/** Site and studio; one that ends is counted, and started again so that the rest is attacked too. */
class Programs {
  ended = 0
  private stopping = false
  private readonly children = new Map<string, ChildProcess>()

  constructor(private readonly settings: Settings) {}

  async begin(): Promise<void> {
    for (const name of ['site', 'studio-server']) this.launch(name)
    for (const port of [this.settings.sitePort, this.settings.studioPort])
      for (let tries = 0; tries < 300; tries++) {
        const answer = await fetch(`http://127.0.0.1:${port}/healthz`).catch(() => null)
        if (answer?.status === 200) break
        await new Promise((next) => setTimeout(next, 100))
      }
  }

  private launch(name: string): void {
    mkdirSync(join(this.settings.home, 'logs'), { recursive: true })
    const log = openSync(join(this.settings.home, 'logs', `attack-${name}.log`), 'w')
    // Without limits, so that what is behind them is attacked; they have tests of their own.
    const env = { ...processEnvironment(this.settings, DATABASE), SITE_LIMITS: 'off' }
    const child = spawn(process.execPath, ['--enable-source-maps', `dist/${name}.mjs`], { env, stdio: ['ignore', log, log] })
    this.children.set(name, child)
    child.once('exit', () => {
      if (this.stopping) return
      this.ended++
      this.launch(name)
    })
  }

  async end(): Promise<void> {
    this.stopping = true
    await Promise.all(
      [...this.children.values()].map(
        (child) =>
          new Promise((done) => {
            child.once('exit', done)
            child.kill('SIGTERM')
            setTimeout(() => child.kill('SIGKILL'), 5000).unref()
          }),
      ),
    )
  }
}

async function attack(settings: Settings, db: Database, programs: Programs): Promise<boolean> {
  const lots = lotsFrom(20_261_126)
  const agent = new Agent({ keepAlive: true, maxSockets: 2 })
  const found = {
    sent: 0,
    statuses: new Map<number, number>(),
    faults: [] as Outcome[],
    slow: [] as Outcome[],
    wrote: [] as string[],
    lost: [] as string[],
    held: [] as string[],
  }
  const make = shooter(settings, lots, await goodFiles())
  while (found.sent < REQUESTS) {
    const sessions = await sessionsFor(db)
    await togetherLive(sessions)
    if (lots.below(12) === 0) await notReading(sessions)
    const atOnce = (1 + (Math.floor(found.sent / GROUP) % 2)) as 1 | 2
    const before = await fingerprint(db)
    const outcomes = await volley(
      settings,
      agent,
      Array.from({ length: GROUP }, () => make(sessions)),
      atOnce,
    )
    for (const outcome of outcomes) note(outcome)
    const refused = outcomes.filter(({ status }) => status >= 400)
    if (refused.length < outcomes.length) {
      // Something was taken: those that were refused are sent again alone, as nothing must come of them.
      const now = await fingerprint(db)
      const again = await volley(
        settings,
        agent,
        refused.map(({ shot }) => shot),
        atOnce,
      )
      again.forEach(note)
      if (again.every(({ status }) => status >= 400)) compare(now, await fingerprint(db), again)
    } else compare(before, await fingerprint(db), outcomes)
    if (found.sent % 3000 < GROUP) process.stderr.write(`${found.sent} `)
  }
  async function togetherLive({ administrator }: Sessions): Promise<void> {
    const ask = asking(settings, administrator)
    for (let times = 0; times < 4; times++) {
      const { sent, statuses, lost } = await pair(db, ask, lots)
      found.sent += sent
      for (const status of statuses) found.statuses.set(status, (found.statuses.get(status) ?? 0) + 1)
      found.lost.push(...lost)
    }
  }
  async function notReading({ administrator }: Sessions): Promise<void> {
    const ask = asking(settings, administrator)
    const others = async () => {
      const began = Date.now()
      await ask('site.read', {})
      return Date.now() - began
    }
    const { sent, held } = await slowReaders(settings.studioPort, `sprig_session=${administrator}`, { db, lots, others })
    found.sent += sent
    found.held.push(...held)
  }
  function note(outcome: Outcome): void {
    found.sent++
    found.statuses.set(outcome.status, (found.statuses.get(outcome.status) ?? 0) + 1)
    if (outcome.status === 0 || outcome.status >= 500) found.faults.push(outcome)
    if (outcome.milliseconds > SLOW) found.slow.push(outcome)
  }
  function compare(was: ReadonlyMap<string, string>, is: ReadonlyMap<string, string>, outcomes: readonly Outcome[]): void {
    for (const [table, sum] of is)
      if (was.get(table) !== sum)
        found.wrote.push(
          `${table}, by one of ${outcomes
            .map(({ shot }) => shot.path)
            .join(' ')
            .slice(0, 300)}`,
        )
  }
  const tell = (name: string, bad: readonly Outcome[]) =>
    bad
      .slice(0, 12)
      .forEach(({ shot, status, why, milliseconds }) =>
        process.stdout.write(
          `  ${name}: ${status} ${why} in ${milliseconds} ms, ${shot.where} ${shot.method} ${JSON.stringify(shot.path.slice(0, 200))} ${shot.body?.toString().slice(0, 300) ?? ''}\n`,
        ),
      )
  tell('fault', found.faults)
  tell('slow', found.slow)
  found.wrote.slice(0, 12).forEach((words) => process.stdout.write(`  written: ${words}\n`))
  for (const words of [...found.lost, ...found.held].slice(0, 24)) process.stdout.write(`  ${words}\n`)
  process.stdout.write(
    `${found.sent} requests, half of them two at once: ${found.faults.length} faults of the server, ${found.slow.length} answers over ${SLOW / 1000} s, ` +
      `${programs.ended} processes ended, ${found.wrote.length} rows written by refused requests, ` +
      `${found.lost.length} lost of what went live at the same moment, ${found.held.length} held up by those who do not read\n` +
      `answers: ${[...found.statuses]
        .sort(([one], [other]) => one - other)
        .map(([status, count]) => `${status} ${count}`)
        .join(', ')}\n`,
  )
  return (
    [found.faults, found.slow, found.wrote, found.lost, found.held].every((list) => list.length === 0) && programs.ended === 0
  )
}

/** Asks for an action as somebody who is signed in. */
function asking(settings: Settings, session: string) {
  return async (action: string, input: unknown) => {
    const answer = await fetch(`http://127.0.0.1:${settings.studioPort}/api/${action}`, {
      method: 'POST',
      headers: {
        'content-type': 'application/json',
        origin: `http://localhost:${settings.studioPort}`,
        'user-agent': agentName,
        cookie: `sprig_session=${session}`,
      },
      body: JSON.stringify(input),
    })
    return { status: answer.status, body: (await answer.json().catch(() => null)) as unknown }
  }
}

type Sessions = Readonly<Record<Role, string>>

/** Everybody as they were, and signed in: a request may have changed that. */
async function sessionsFor(db: Database): Promise<Sessions> {
  for (const { id, email, name, role } of demoAccounts)
    await db('accounts').where({ id }).update({ email, name, role, disabled: 0, one_time: 0 })
  await db('sessions').delete()
  const opened = await Promise.all(demoAccounts.map(async ({ id, role }) => [role, await openSession(db, id)] as const))
  return Object.fromEntries(opened) as Record<Role, string>
}

/** A checksum of every table that a request could write to. */
async function fingerprint(db: Database): Promise<Map<string, string>> {
  const [tables] = (await db.raw('SHOW TABLES')) as [Record<string, string>[]]
  const names = tables.flatMap((row) => Object.values(row)).filter((name) => !besides.has(name))
  const [sums] = (await db.raw(`CHECKSUM TABLE ${names.map((name) => `\`${name}\``).join(', ')}`)) as [
    { Table: string; Checksum: unknown }[],
  ]
  return new Map(sums.map(({ Table, Checksum }) => [Table, String(Checksum)]))
}

async function volley(settings: Settings, agent: Agent, shots: readonly Shot[], atOnce: 1 | 2): Promise<Outcome[]> {
  const waiting = [...shots]
  const outcomes: Outcome[] = []
  const one = async () => {
    for (let shot = waiting.shift(); shot !== undefined; shot = waiting.shift()) outcomes.push(await fire(settings, agent, shot))
  }
  await Promise.all(Array.from({ length: atOnce }, one))
  return outcomes
}

function fire(settings: Settings, agent: Agent, shot: Shot): Promise<Outcome> {
  const began = Date.now()
  const outcome = (status: number, why = ''): Outcome => ({ shot, status, why, milliseconds: Date.now() - began })
  return new Promise((done) => {
    try {
      const { method, path, headers, body } = shot
      const port = shot.where === 'site' ? settings.sitePort : settings.studioPort
      const sent = request({ host: '127.0.0.1', port, agent, method, path, headers, timeout: 15_000 }, (answer) => {
        answer.resume()
        answer.once('end', () => done(outcome(answer.statusCode ?? 0)))
        answer.once('error', () => done(outcome(0)))
      })
      sent.once('timeout', () => sent.destroy(new Error('no answer')))
      sent.once('error', (reason: NodeJS.ErrnoException) => {
        // A server may refuse before it has read all, and close; what it cannot read at all it refuses without knowing the method.
        const early = ['EPIPE', 'ECONNRESET'].includes(reason.code ?? '')
        const unread = method === 'HEAD' && reason.message.startsWith('Parse Error')
        done(outcome(early ? 499 : unread ? 400 : 0, reason.message))
      })
      sent.end(body ?? undefined)
    } catch {
      // What cannot even be sent harms nobody.
      done(outcome(400))
    }
  })
}

/** Any text as the bytes of a header or an address: as UTF-8, whatever is in it. */
const raw = (text: string) =>
  Buffer.from(text, 'utf8')
    .toString('latin1')
    .replace(/[\u0000-\u0020\u007f]/g, '%20')
    .slice(0, 3000)
const jsonSchemaOf = (schema: z.ZodType) => z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as JsonSchema

/** Makes the next request: a route, a sender, good input, and mostly something wrong with it. */
function shooter(settings: Settings, lots: Lots, files: Awaited<ReturnType<typeof goodFiles>>): (sessions: Sessions) => Shot {
  const studio = `http://localhost:${settings.studioPort}`
  const actions = Object.keys(contract) as ActionName[]
  const inputs = new Map(actions.map((name) => [name, jsonSchemaOf(contract[name].input)]))
  const reports = jsonSchemaOf(reportSchema)
  const outside = [jsonSchemaOf(outsideReportSchema), jsonSchemaOf(cloudEventSchema)]
  const json = (value: unknown) => Buffer.from(JSON.stringify(value) ?? 'null')
  const text = () => lots.pick(nastyTexts)
  const whole = () => shortened(text(), 40_000)
  const id = () => lots.pick(['home', 'plans', 't-1', 'reserved', raw(text()), encodeURIComponent(whole())])
  const query = () =>
    lots.below(2) === 0
      ? ''
      : `?${lots.pick(['utm_campaign', 'utm_source', 'a', 'pass', 'to', 'key', raw(text())])}=${lots.below(2) === 0 ? raw(text()) : encodeURIComponent(whole())}`

  const cookie = (sessions: Sessions) => {
    const session = lots.pick([
      '',
      '',
      sessions.editor,
      sessions.publisher,
      sessions.administrator,
      sessions.administrator,
      text(),
    ])
    const odd = lots.below(6) === 0 ? `; ${raw(text())}=${raw(text())}; visit=${raw(text())}; kept=${raw(text())}` : ''
    return `sprig_session=${raw(session)}; visitor=${lots.pick(['a'.repeat(32), raw(text())])}${odd}`
  }
  const headers = (sessions: Sessions, type: string, origin: string): Record<string, string> => ({
    'user-agent': lots.below(10) === 0 ? raw(text()) : agentName,
    origin: lots.below(20) === 0 ? raw(text()) : origin,
    'content-type': lots.below(20) === 0 ? raw(text()) : type,
    cookie: cookie(sessions),
    ...(lots.below(8) === 0
      ? {
          'x-forwarded-for': raw(text()),
          referer: raw(text()),
          range: `bytes=${raw(text())}`,
          'if-none-match': raw(text()),
          authorization: `Bearer ${raw(text())}`,
        }
      : {}),
  })
  const made = (schema: JsonSchema) => {
    const good = sample(schema, lots)
    return lots.below(8) === 0 ? good : bent(good, lots)
  }

  const studioAction = (sessions: Sessions): Shot => {
    const name = lots.pick(actions)
    const action = lots.below(25) === 0 ? id() : name
    return {
      where: 'studio',
      method: 'POST',
      path: `/api/${action}`,
      headers: headers(sessions, 'application/json', studio),
      body: json(made(inputs.get(name) ?? {})),
    }
  }
  const studioDoor = (sessions: Sessions): Shot => {
    const door = lots.pick([
      'sign-in',
      'password',
      'welcome',
      'forgotten',
      'media?title=x',
      'media?title=y',
      'archive',
      'orders?title=z',
    ])
    const kind = door.split('?')[0] ?? ''
    const isFile = kind === 'media' || kind === 'archive' || kind === 'orders'
    const value = bent({ email: 'ada@pinemoth.example', password: 'moths', current: 'x', token: 'y'.repeat(43) }, lots)
    const body = isFile
      ? lots.below(4) === 0
        ? Buffer.from(lots.pick([text(), '\u0089PNG\r\n\u001a\n', 'GIF89a', 'PK\u0003\u0004', 'RIFFxxxxWEBP']), 'latin1')
        : bentFile(lots.pick(files[kind]), lots)
      : json(value)
    return {
      where: 'studio',
      method: 'POST',
      path: `/api/${door}`,
      headers: headers(sessions, isFile ? 'application/octet-stream' : 'application/json', studio),
      body,
    }
  }
  const studioPages = ['/', '/site', '/tests', '/goals', '/notebook', '/rehearse', '/settings', '/settings/people', '/settings/trail', '/settings/me', '/sign-in', '/new-password', '/forgotten', '/schema.json', '/healthz', '/api/archive'] // prettier-ignore
  const studioPage = (sessions: Sessions): Shot => {
    const path =
      lots.below(2) === 0
        ? lots.pick(studioPages)
        : `/${lots.pick(['site', 'tests', 'goals', 'welcome', 'media', '_next', 'api', ''])}/${id()}`
    return {
      where: 'studio',
      method: lots.below(12) === 0 ? lots.pick(['PUT', 'TRACE', 'OPTIONS', 'DELETE', 'HEAD', 'POST']) : 'GET',
      path: path + query(),
      headers: headers(sessions, 'text/plain', studio),
      body: null,
    }
  }
  const sitePost = (sessions: Sessions): Shot => {
    const site = `http://127.0.0.1:${settings.sitePort}`
    const door = lots.below(3)
    if (door === 0)
      return {
        where: 'site',
        method: 'POST',
        path: '/collect',
        headers: headers(sessions, 'text/plain', site),
        body: json(made(reports)),
      }
    if (door === 1)
      return {
        where: 'site',
        method: 'POST',
        path: '/report',
        headers: { ...headers(sessions, lots.pick(reportTypes), site), authorization: `Bearer ${raw(text())}` },
        body: json(made(lots.pick(outside))),
      }
    const form = `${lots.pick(['name', raw(text())])}=${raw(text())}&email=${encodeURIComponent(whole())}`
    return {
      where: 'site',
      method: 'POST',
      path: `/forms/${id()}/${lots.pick(['reserve-form', id()])}`,
      headers: headers(sessions, 'application/x-www-form-urlencoded', site),
      body: Buffer.from(form, 'latin1'),
    }
  }
  const sitePage = (sessions: Sessions): Shot => {
    const path = lots.pick(['/', '/plans', '/reserve', '/instruments/cello', '/out', '/letter/follow', '/letter/image', '/report/image', '/report/openapi.json', `/look/${id()}`, `/media/${id()}`, `/made/${id()}`, '/healthz', `/${id()}`]) // prettier-ignore
    return {
      where: 'site',
      method: lots.below(12) === 0 ? lots.pick(['PUT', 'TRACE', 'OPTIONS', 'DELETE', 'HEAD', 'POST']) : 'GET',
      path: path + query(),
      headers: headers(sessions, 'text/plain', studio),
      body: null,
    }
  }
  const kinds = [
    studioAction,
    studioAction,
    studioAction,
    studioAction,
    studioDoor,
    studioPage,
    sitePost,
    sitePost,
    sitePage,
    sitePage,
  ]
  return (sessions) => lots.pick(kinds)(sessions)
}

void run().then((well) => process.exit(well ? 0 : 1))
