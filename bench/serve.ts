import { spawn, type ChildProcess } from 'node:child_process'
import { chmodSync, mkdtempSync, writeFileSync } from 'node:fs'
import { get } from 'node:http'
import { createServer } from 'node:net'
import { cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { bundleProgram } from '@/command/build'
import { ensurePrograms } from '@/command/debian'
import { visit } from './visitors'

/** One process of a program can be a fifth slower than the next, by what memory it got: each is begun this often. */
const GENERATIONS = Number(process.env.GENERATIONS ?? 3)
const TURNS = Number(process.env.TURNS ?? 12)
const SECONDS = Number(process.env.SECONDS ?? 0.5)
const VISITORS = 20_000

const BUNDLE = join('dist', 'site-under-test.mjs')

/** A server in a process of its own, on a processor of its own where there are two. */
interface Server {
  readonly port: number
  readonly child: ChildProcess
  /** Bytes held, after what nobody needs was let go. */
  memory(): Promise<number>
}

/** On the first processor; what asks is on the others. */
const pinned = (words: readonly string[]) => (cpus().length > 1 ? ['taskset', '-c', '0', ...words] : [...words])

async function start(order: object, flags: readonly string[] = []): Promise<Server> {
  const [command = '', ...words] = pinned([process.execPath, '--expose-gc', ...flags, BUNDLE])
  const child = spawn(command, words, {
    env: { ...process.env, NODE_ENV: 'production', UNDER_TEST: JSON.stringify(order) },
    stdio: ['pipe', 'pipe', 'inherit'],
  })
  begun.push(child)
  const lines = createInterface({ input: child.stdout })[Symbol.asyncIterator]()
  const line = async () => Number((await lines.next()).value)
  const port = await line()
  return {
    port,
    child,
    async memory() {
      child.stdin.write('\n')
      return line()
    },
  }
}

/** Debian’s nginx with one worker, serving the same bytes as a file. */
async function startNginx(body: Buffer): Promise<Server> {
  await ensurePrograms([{ program: '/usr/sbin/nginx', debianPackage: 'nginx-light' }])
  const folder = mkdtempSync(join(tmpdir(), 'nginx-'))
  // Its worker is somebody else where root begins it.
  chmodSync(folder, 0o755)
  const port = await freePort()
  writeFileSync(join(folder, 'index.html'), body)
  writeFileSync(
    join(folder, 'nginx.conf'),
    `worker_processes 1; daemon off; pid ${folder}/pid; error_log ${folder}/errors;
     events { worker_connections 512; }
     http { access_log off; sendfile on; tcp_nopush on; keepalive_requests 100000000; default_type text/html;
       client_body_temp_path ${folder}/b; proxy_temp_path ${folder}/p; fastcgi_temp_path ${folder}/f; uwsgi_temp_path ${folder}/u; scgi_temp_path ${folder}/s;
       open_file_cache max=10; server { listen 127.0.0.1:${port}; root ${folder}; } }`,
  )
  const [command = '', ...words] = pinned([
    '/usr/sbin/nginx',
    '-c',
    join(folder, 'nginx.conf'),
    '-p',
    folder,
    '-e',
    join(folder, 'errors'),
  ])
  const child = spawn(command, words, { stdio: ['ignore', 'ignore', 'inherit'] })
  begun.push(child)
  for (let tries = 0; tries < 50; tries++) {
    if ((await fetch(`http://127.0.0.1:${port}/`).catch(() => null))?.ok === true) break
    await new Promise((next) => setTimeout(next, 50))
  }
  return { port, child, memory: () => Promise.resolve(NaN) }
}

function freePort(): Promise<number> {
  return new Promise((done) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const address = server.address()
      server.close(() => done(typeof address === 'object' && address !== null ? address.port : 0))
    })
  })
}

/** Whatever happens, none is left behind. */
const begun: ChildProcess[] = []
process.on('exit', () => begun.forEach((child) => child.kill()))

/** One answer as it is sent, its body not decoded. */
function answered(port: number, cookie: string): Promise<{ readonly head: readonly string[]; readonly body: Buffer }> {
  return new Promise((done, failed) => {
    const asking = get({ port, headers: { cookie, 'accept-encoding': 'gzip, deflate, br' } }, (answer) => {
      const parts: Buffer[] = []
      const lines = answer.rawHeaders.flatMap((value, at, all) =>
        at % 2 === 0 && !/^(date|connection|keep-alive|set-cookie)$/i.test(value) ? [value, all[at + 1] ?? ''] : [],
      )
      answer.on('data', (part: Buffer) => parts.push(part)).on('end', () => done({ head: lines, body: Buffer.concat(parts) }))
    })
    asking.on('error', failed)
  })
}

/** What each of so many visitors was given to keep at their first page. */
async function firstViews(port: number): Promise<string[]> {
  const cookies: string[] = []
  await visit({ port, next: () => '', kept: (one) => cookies.push(one), requests: VISITORS })
  return cookies
}

function inTurn(cookies: readonly string[]): () => string {
  let at = 0
  return () => cookies[at++ % cookies.length] ?? ''
}

const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN

const MILLION = Number(process.env.MEMORY_REQUESTS ?? 1_000_000)

/** What is held after half of a million requests by visitors who never come twice, and after all of them. */
async function memoryOf(server: Server): Promise<void> {
  await visit({ port: server.port, next: () => '', requests: MILLION / 2 })
  const half = await server.memory()
  await visit({ port: server.port, next: () => '', requests: MILLION / 2 })
  const whole = await server.memory()
  const megabytes = (bytes: number) => (bytes / 1_048_576).toFixed(0)
  console.log(
    `serve: ${megabytes(half)} MB after ${(MILLION / 2).toLocaleString('en')} new visitors, ${megabytes(whole)} MB after ${MILLION.toLocaleString('en')}: ${(whole / half).toFixed(2)}  (aim 1.05 at most)`,
  )
}

interface Way {
  readonly of: Server
  next(): string
}
const names = ['returning', 'returningPlain', 'crowded', 'ruled', 'fresh', 'freshPlain', 'bare', 'file'] as const
type Name = (typeof names)[number]

/** All that is compared, in processes that are new. */
async function generation(): Promise<Record<Name, Way>> {
  const under = await start({ kind: 'site', tests: 5, rules: 3, elsewhere: 0 })
  const plain = await start({ kind: 'site', tests: 0, rules: 0, elsewhere: 0 })
  const [known, knownPlain] = [await firstViews(under.port), await firstViews(plain.port)]
  const crowded = await start({ kind: 'site', tests: 5, rules: 3, elsewhere: 200 })
  const knownCrowded = await firstViews(crowded.port)
  const ruled = await start({ kind: 'site', tests: 0, rules: 50, elsewhere: 0 })
  const knownRuled = await firstViews(ruled.port)
  const { head, body } = await answered(under.port, known[0] ?? '')
  const bare = await start({ kind: 'bare', head, body: body.toString('base64') })
  const file = await startNginx(body)
  return {
    returning: { of: under, next: inTurn(known) },
    returningPlain: { of: plain, next: inTurn(knownPlain) },
    crowded: { of: crowded, next: inTurn(knownCrowded) },
    ruled: { of: ruled, next: inTurn(knownRuled) },
    fresh: { of: under, next: () => '' },
    freshPlain: { of: plain, next: () => '' },
    bare: { of: bare, next: inTurn(known) },
    file: { of: file, next: inTurn(known) },
  }
}

/** Pages per second, each request by another visitor: under tests and rules, with none, bare, and as a file. */
export async function benchServe(): Promise<void> {
  await bundleProgram('bench/site-under-test.ts', BUNDLE)
  const found = Object.fromEntries(names.map((name) => [name, { rates: [] as number[], p99: [] as number[] }]))
  let ways = await generation()
  for (let begun = 1; begun <= GENERATIONS; begun++) {
    // In turns, each beginning with another, so that whatever else the machine does meets all alike; the first is not counted.
    for (let turn = 0; turn <= TURNS; turn++)
      for (const [index] of names.entries()) {
        const name = names[(index + turn) % names.length] ?? 'bare'
        const { of, next } = ways[name]
        const { perSecond, p99 } = await visit({ port: of.port, next, milliseconds: SECONDS * 1000 })
        if (turn > 0) {
          found[name]?.rates.push(perSecond)
          found[name]?.p99.push(p99)
        }
      }
    if (begun === GENERATIONS) break
    for (const { of } of Object.values(ways)) of.child.kill()
    ways = await generation()
  }
  tell(found)
  await memoryOf(ways.returning.of)
}

function tell(found: Readonly<Record<string, { readonly rates: readonly number[]; readonly p99: readonly number[] }>>): void {
  for (const name of names)
    console.log(
      `serve: ${name.padEnd(15)} ${median(found[name]?.rates ?? [])
        .toFixed(0)
        .padStart(6)} pages/s, p99 ${median(found[name]?.p99 ?? []).toFixed(1)} ms`,
    )
  // Each turn's own ratio, then the middle one: what slows a whole turn slows both sides of it.
  const ratio = (one: Name, other: Name) =>
    median((found[one]?.rates ?? []).map((rate, turn) => rate / (found[other]?.rates[turn] ?? NaN))).toFixed(2)
  console.log(
    `serve: five tests and three rules, returning visitors / none    ${ratio('returning', 'returningPlain')}  (aim 0.95)`,
  )
  console.log(
    `serve: fifty rules on one part, none of which fits / none          ${ratio('ruled', 'returningPlain')}  (aim 0.95)`,
  )
  console.log(`serve: five tests and three rules, new visitors / none          ${ratio('fresh', 'freshPlain')}  (aim 0.85)`)
  console.log(`serve: five tests and three rules / bare node:http              ${ratio('returning', 'bare')}  (aim 0.80)`)
  console.log(`serve: the same with as many tests on other pages as fit / without  ${ratio('crowded', 'returning')}  (aim 0.97)`)
  console.log(`serve: none / bare node:http                                    ${ratio('returningPlain', 'bare')}`)
  console.log(`serve: five tests and three rules / nginx, the bytes as a file  ${ratio('returning', 'file')}  (aim 0.50)`)
}
