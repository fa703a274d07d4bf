import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import autocannon from 'autocannon'
import { publishedPages, menus, callsToAction } from '@/demo/site-pages'
import { releaseSchema } from '@/core/release'
import { compile } from '@/site/compile/compile'
import { makeSite } from '@/site/site'

const SECONDS = 2
const TURNS = 9
const agent = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
const cookie = `visitor=${'7'.repeat(32)}; visit=${Math.floor(Date.now() / 60_000).toString(36)}.${Math.floor(Date.now() / 60_000).toString(36)}.home.; kept=t-1~shorter`

/** Pages per second: with one test, with none, and a bare server that answers the same bytes from memory. */
export async function benchServe(): Promise<void> {
  const documents = [...publishedPages, ...menus, ...callsToAction]
  const round = {
    id: 't-1-r1',
    test: 't-1',
    number: 1,
    design: {
      name: 'x',
      problem: '',
      change: '',
      expected: '',
      document: 'home',
      node: 'home-title',
      arms: [
        { version: 'original', weight: 5000 },
        { version: 'shorter', weight: 5000 },
      ],
      share: 10_000,
      primary: null,
      watched: [],
      smallestEffect: 0.05,
    },
    versions: [
      { id: 'shorter', name: 'Shorter', edits: [{ kind: 'set', node: 'home-title', prop: 'words', value: 'Rent by the month' }] },
    ],
    goals: [],
    salt: 't-1',
    plannedTotal: 1000,
    paused: false,
  }
  const make = async (rounds: unknown[]) => {
    const compiled = compile(releaseSchema.parse({ documents, rounds, personalizations: [], goals: [] }), {
      script: '/look/count.js',
      style: '/look/site.css',
    })
    const site = makeSite({
      current: () => compiled,
      assets: new Map(),
      media: new Map(),
      writeEvents: () => Promise.resolve(),
      keepEntry: () => Promise.resolve(),
      now: () => Date.now(),
      log: () => undefined,
    })
    await site.listen({ port: 0, host: '127.0.0.1' })
    return { site, port: (site.server.address() as AddressInfo).port }
  }
  const tested = await make([round])
  const plain = await make([])
  const bytes = Buffer.from(
    await (await fetch(`http://127.0.0.1:${tested.port}/`, { headers: { 'user-agent': agent, cookie } })).arrayBuffer(),
  )
  const bare: Server = createServer((_, response) => {
    response.writeHead(200, { 'content-type': 'text/html; charset=utf-8', 'content-length': bytes.length })
    response.end(bytes)
  })
  await new Promise<void>((done) => bare.listen(0, '127.0.0.1', done))
  const ports = { tested: tested.port, plain: plain.port, bare: (bare.address() as AddressInfo).port }

  const rates = { tested: [] as number[], plain: [] as number[], bare: [] as number[] }
  const names = ['tested', 'plain', 'bare'] as const
  for (const name of names) await hit(ports[name], 1)
  // In turns, each beginning with another, so that whatever else the machine does meets all three alike.
  for (let turn = 0; turn < TURNS; turn++) {
    const order = [...names.slice(turn % 3), ...names.slice(0, turn % 3)]
    for (const name of order) rates[name].push(await hit(ports[name], SECONDS))
  }
  const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0
  const [withTest, without, bareRate] = [median(rates.tested), median(rates.plain), median(rates.bare)]
  // Each turn's own ratio, then the middle one: what slows a whole turn slows both sides of it.
  const ratio = (over: readonly number[]) => median(rates.tested.map((rate, turn) => rate / (over[turn] ?? NaN))).toFixed(2)
  console.log(
    `serve: one test ${withTest.toFixed(0)}/s, no test ${without.toFixed(0)}/s, bare node:http ${bareRate.toFixed(0)}/s`,
  )
  console.log(`serve: a page under one test / the same with none   ${ratio(rates.plain)}  (aim 0.90)`)
  console.log(`serve: a page under one test / bare server          ${ratio(rates.bare)}  (aim 0.60)`)
  await Promise.all([tested.site.close(), plain.site.close()])
  bare.close()
}

async function hit(port: number, seconds: number): Promise<number> {
  const { requests, errors, non2xx } = await autocannon({
    url: `http://127.0.0.1:${port}/`,
    connections: 50,
    workers: 1,
    duration: seconds,
    headers: { 'user-agent': agent, cookie },
  })
  if (errors > 0 || non2xx > 0) throw new Error(`the server on port ${port} failed ${errors + non2xx} requests`)
  return requests.average
}
