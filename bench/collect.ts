import { randomBytes } from 'node:crypto'
import type { AddressInfo } from 'node:net'
import autocannon from 'autocannon'
import { connect, type Database } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { writeEvents } from '@/server/stores/events'
import { stamp } from '@/site/collect/report'
import { compile } from '@/site/compile/compile'
import { releaseSchema } from '@/core/release'
import { makeSite } from '@/site/site'

const SECONDS = 6
const EVENTS_A_REPORT = 10
const ROWS_A_STATEMENT = 500
const agent = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36'
const id = () => randomBytes(16).toString('hex')

/** Durable events per second through the site, against plain multi-row inserts of the same rows by the same driver. */
export async function benchCollect(environment: NodeJS.ProcessEnv): Promise<void> {
  const db = connect(environment, { min: 0, max: 8 })
  await migrate(db)
  const plain = await plainInserts(db)
  await db('events').truncate()
  const { rate, p99 } = await throughTheSite(db)
  const kept = Number((await db('events').count({ total: '*' }).first())?.total)
  console.log(
    `collect: ${rate.toFixed(0)} durable events/s through HTTP at 200 connections (p99 ${p99} ms, ${kept} rows), plain inserts ${plain.toFixed(0)}/s`,
  )
  console.log(`collect: through the site / plain multi-row inserts ${(rate / plain).toFixed(2)}  (aim 0.50)`)
  await db.destroy()
}

async function plainInserts(db: Database): Promise<number> {
  const visitor = id()
  const until = Date.now() + SECONDS * 1000
  let written = 0
  // Two writers side by side, as the site has.
  const write = async () => {
    while (Date.now() < until) {
      const report = { d: 'home' as never, e: Array.from({ length: ROWS_A_STATEMENT }, () => ({ i: id(), k: 'page' as const })) }
      const sender = { visitor, at: new Date(), source: 0, page: { path: '/', pageType: '' }, arrival: null }
      await writeEvents(db, stamp(report, sender))
      written += ROWS_A_STATEMENT
    }
  }
  await Promise.all([write(), write()])
  return written / SECONDS
}

const home = {
  id: 'home',
  kind: 'page',
  root: 'root',
  nodes: { root: { type: 'page', props: { title: 'Home', path: '/' }, children: [] } },
}

async function throughTheSite(db: Database): Promise<{ rate: number; p99: number }> {
  const compiled = compile(releaseSchema.parse({ documents: [home], rounds: [], personalizations: [], goals: [] }), {
    script: '',
    style: '',
  })
  const site = makeSite({
    current: () => compiled,
    assets: new Map(),
    media: new Map(),
    writeEvents: (events) => writeEvents(db, events),
    keepEntry: () => Promise.resolve(),
    now: () => Date.now(),
    log: (reason) => console.error(reason),
  })
  await site.listen({ port: 0, host: '127.0.0.1' })
  const result = await autocannon({
    url: `http://127.0.0.1:${(site.server.address() as AddressInfo).port}/collect`,
    connections: 200,
    duration: SECONDS,
    method: 'POST',
    headers: { 'user-agent': agent, 'content-type': 'text/plain' },
    requests: [
      {
        setupRequest: (request) => ({
          ...request,
          headers: { ...request.headers, cookie: `visitor=${id()}` },
          body: JSON.stringify({ d: 'home', e: Array.from({ length: EVENTS_A_REPORT }, () => ({ i: id(), k: 'page' })) }),
        }),
      },
    ],
  })
  if (result.non2xx > 0) throw new Error(`${result.non2xx} reports were refused`)
  await site.close()
  return { rate: (result['2xx'] * EVENTS_A_REPORT) / result.duration, p99: result.latency.p99 }
}
