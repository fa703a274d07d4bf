import { spawn, type ChildProcess } from 'node:child_process'
import { mkdirSync, openSync } from 'node:fs'
import { Agent, get } from 'node:http'
import { join, resolve } from 'node:path'
import { buildLook, buildProcesses } from '@/command/build'
import { databasePrograms, ensurePrograms } from '@/command/debian'
import { emptyDatabase, startDatabase, stopDatabase } from '@/command/private-database'
import { processEnvironment, readSettings, siteAddress, type Settings } from '@/command/settings'
import type { ContentDocument } from '@/core/document'
import type { DocumentId, NodeId } from '@/core/ids'
import { seedDemo } from '@/demo/seed'
import { connect, type Database } from '@/server/database/connect'
import { goLive } from '@/server/database/go-live'
import { migrate } from '@/server/database/migrations'
import { publishBody, readPublished } from '@/server/stores/documents'
import { makeRelease } from '@/server/stores/releases'
import { newId } from './visitors'

const DATABASE = 'sprig_bench'
const PROCESSES = 4
const RELEASES = Number(process.env.RELEASES ?? 20)
const BROWSERS = 16
const PAGE = 'about' as DocumentId
const agent = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
const pause = (milliseconds: number) => new Promise((next) => setTimeout(next, milliseconds))
const connections = new Agent({ keepAlive: true })

interface Answer {
  readonly body: string
  readonly cookies: readonly string[]
}

function ask(port: number, path: string, cookie: string): Promise<Answer> {
  return new Promise((done, failed) => {
    const headers = { 'user-agent': agent, ...(cookie === '' ? {} : { cookie }) }
    get({ host: '127.0.0.1', port, path, agent: connections, headers }, (answer) => {
      let body = ''
      answer.setEncoding('utf8')
      answer.on('data', (part: string) => (body += part))
      answer.on('end', () => done({ body, cookies: answer.headers['set-cookie'] ?? [] }))
    }).on('error', failed)
  })
}

/** Four site processes on one database; releases are made under load, each of which changes two places of a page at once. */
async function run(): Promise<boolean> {
  await ensurePrograms(databasePrograms)
  process.env.SPRIG_HOME = resolve('.sprig', 'bench')
  const settings = readSettings({ ...process.env, SPRIG_DB_PORT: '4326', SITE_PORT: '4230', STUDIO_PORT: '4130' })
  await buildLook()
  await buildProcesses()
  await startDatabase(settings, { throwaway: true })
  await emptyDatabase(settings, DATABASE)
  const db = connect(processEnvironment(settings, DATABASE))
  const ports = Array.from({ length: PROCESSES }, (_, at) => settings.sitePort + at)
  const children: ChildProcess[] = []
  try {
    await migrate(db)
    await seedDemo(db, siteAddress(settings))
    for (const port of ports) children.push(launch(settings, port))
    for (const port of ports) await answers(port)
    const [live, kept] = [await releases(db, ports), await roundRobin(ports)]
    return live && kept
  } finally {
    for (const child of children) child.kill('SIGTERM')
    await pause(1500)
    await db.destroy()
    await stopDatabase(settings)
  }
}

function launch(settings: Settings, port: number): ChildProcess {
  mkdirSync(join(settings.home, 'logs'), { recursive: true })
  const log = openSync(join(settings.home, 'logs', `site-${port}.log`), 'w')
  const env = {
    ...processEnvironment(settings, DATABASE),
    SITE_PORT: String(port),
    SITE_SPOOL: join(settings.home, `spool-${port}`),
  }
  return spawn(process.execPath, ['dist/site.mjs'], { env, stdio: ['ignore', log, log] })
}

async function answers(port: number): Promise<void> {
  for (let tries = 0; tries < 200; tries++) {
    const { body } = await ask(port, '/', '').catch(() => ({ body: '' }))
    if (body.includes('</html>')) return
    await pause(100)
  }
  throw new Error(`the site on port ${port} does not answer`)
}

/** The same page with its title and its description saying a number. */
function saying(page: ContentDocument, number: number): ContentDocument {
  const heading = Object.entries(page.nodes).find(([, { type }]) => type === 'heading')?.[0] as NodeId
  const set = (id: NodeId, prop: string) => ({
    ...page.nodes[id]!,
    props: { ...page.nodes[id]!.props, [prop]: `Release no. ${number}.` },
  })
  return { ...page, nodes: { ...page.nodes, [page.root]: set(page.root, 'description'), [heading]: set(heading, 'words') } }
}

async function releases(db: Database, ports: readonly number[]): Promise<boolean> {
  const page = (await readPublished(db, [PAGE])).get(PAGE)
  if (page === undefined) throw new Error(`there is no page ${PAGE}`)
  const { path } = page.nodes[page.root]!.props as { path: string }
  let [stopped, asked, mixed] = [false, 0, 0]
  const newest = new Map(ports.map((port) => [port, { number: 0, at: 0 }]))
  let backwards = 0
  const browser = async (start: number) => {
    for (let turn = start; !stopped; turn++) {
      const port = ports[turn % ports.length] ?? 0
      const { body } = await ask(port, path, '')
      const places = [...body.matchAll(/Release no\. (\d+)\./g)].map(([, number]) => Number(number))
      if (places.length === 1) throw new Error('the page says its number in one place only: a mixture could not be seen')
      const said = [...new Set(places)]
      asked++
      if (said.length > 1) mixed++
      const before = newest.get(port)
      if (said[0] !== undefined && before !== undefined && said[0] > before.number)
        newest.set(port, { number: said[0], at: performance.now() })
    }
  }
  const load = Array.from({ length: BROWSERS }, (_, at) => browser(at))
  const lags: number[] = []
  for (let number = 1; number <= RELEASES; number++) {
    await goLive(db, async (trx) => {
      await publishBody(trx, PAGE, saying(page, number), { note: '', author: 'bench', lock: null })
      await makeRelease(trx, 'bench', 'bench')
    })
    const made = performance.now()
    while (![...newest.values()].every((one) => one.number === number) && performance.now() - made < 10_000) await pause(5)
    if (![...newest.values()].every((one) => one.number === number)) backwards++
    lags.push(Math.max(...[...newest.values()].map(({ at }) => at)) - made)
    await pause(Math.random() * 300)
  }
  stopped = true
  await Promise.all(load)
  lags.sort((a, b) => a - b)
  const at = (share: number) => (lags[Math.floor(lags.length * share)] ?? NaN).toFixed(0)
  console.log(
    `release: live on all of ${ports.length} processes after ${at(0.5)} ms (median), ${at(0.999)} ms (longest of ${RELEASES}), aim 1000; ${asked} pages looked at, ${mixed} of them a mixture, ${backwards} releases not seen within ten seconds`,
  )
  return mixed === 0 && backwards === 0 && (lags.at(-1) ?? Infinity) <= 1000
}

/** Visitors who are sent to another process with every page. */
async function roundRobin(ports: readonly number[]): Promise<boolean> {
  let [visitors, changed] = [0, 0]
  for (; visitors < 300; visitors++) {
    const jar = new Map([['visitor', newId()]])
    const seen = new Set<string>()
    for (let view = 0; view < 8; view++) {
      const cookie = [...jar].map(([name, value]) => `${name}=${value}`).join('; ')
      const { body, cookies } = await ask(ports[(visitors + view) % ports.length] ?? 0, '/', cookie)
      for (const one of cookies) {
        const [, name = '', value = ''] = /^([^=]+)=([^;]*)/.exec(one) ?? []
        jar.set(name, value)
      }
      seen.add([...body.matchAll(/data-e="([^"]*)"/g)].map(([, exposed]) => exposed).join())
    }
    if (seen.size > 1) changed++
  }
  console.log(
    `release: ${visitors} visitors over ${ports.length} processes in turn, ${changed} of them shown two versions of one thing`,
  )
  return changed === 0
}

run().then(
  (kept) => process.exit(kept ? 0 : 1),
  (reason) => {
    console.error(reason)
    process.exit(1)
  },
)
