import { execFile } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import type { AddressInfo } from 'node:net'
import { promisify } from 'node:util'
import * as z from 'zod'
import { connect, type Database } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { writeEvents } from '@/server/stores/events'
import { stamp } from '@/core/events'
import { compile } from '@/site/compile/compile'
import { releaseSchema } from '@/core/release'
import { makeSite } from '@/site/site'

const SECONDS = 6
const ROWS_A_STATEMENT = 500
/** What the senders say of their run. */
const outcome = z.object({ events: z.number(), seconds: z.number(), p99: z.number(), non2xx: z.number() })
const id = () => randomBytes(16).toString('hex')

/** Durable events per second through the site, against plain multi-row inserts of the same rows by the same driver. */
export async function benchCollect(environment: NodeJS.ProcessEnv): Promise<void> {
  const db = connect(environment, { min: 0, max: 8 })
  await migrate(db)
  const plain = await plainInserts(db)
  await db('events').truncate()
  const { rate, p99 } = await throughTheSite(db, 10)
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
      const sender = { visitor, at: new Date(), crowd: 0, page: { path: '/', pageType: '' }, arrival: null }
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

/** What one site process takes in. */
export async function throughTheSite(db: Database, eventsAReport: number): Promise<{ rate: number; p99: number }> {
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
  const { port } = site.server.address() as AddressInfo
  // In a process of its own: visitors' browsers take nothing from the site's processor time.
  const address = `http://127.0.0.1:${port}/collect`
  const words = ['--import', 'tsx', 'bench/senders.ts', address, String(eventsAReport)]
  const load = promisify(execFile)(process.execPath, words)
  const result = outcome.parse(JSON.parse((await load).stdout))
  if (result.non2xx > 0) throw new Error(`${result.non2xx} reports were refused`)
  await site.close()
  return { rate: result.events / result.seconds, p99: result.p99 }
}
