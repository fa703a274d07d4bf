import { join } from 'node:path'
import { logger } from '@/serving/logger'
import * as z from 'zod'
import { connect } from '@/server/database/connect'
import { keepGoing } from '@/serving/keep-going'
import { emptyBin } from '@/server/stores/bin'
import { pruneTrail } from '@/server/stores/audit-trail'
import { readSettings } from '@/server/stores/settings'
import { forgetProcesses } from '@/server/stores/site-processes'
import { readAssets } from '@/site/assets'
import { siteOrigin } from '@/serving/addresses'
import { READERS_HOUR } from '@/server/stand-ins/letter-service'
import { styleAddress } from '@/site/site'
import { deliverEntries } from './deliver'
import { postOn } from './letters'
import { drawPictures, rehearseOn, tallyAll } from './work'

const settings = z.object({ SPRIG_LOOK: z.string().default(join(process.cwd(), 'public', 'look')) }).parse(process.env)
const PAUSE = 200
const LOCK = 'sprig_jobs'

const log = logger('jobs')
keepGoing((reason) => log.error(reason))
const db = connect(process.env)
const assets = readAssets(settings.SPRIG_LOOK)
const style = styleAddress(assets)
const css = assets.get('/look/site.css')?.body.toString() ?? ''
let stopped = false

const pause = (milliseconds: number) => new Promise((next) => setTimeout(next, milliseconds))

/**
 * One process works, others stand by: whoever holds the database's lock. The lock lives and dies with its connection,
 * so it is asked for on the connection that keeps it, before every round of work.
 */
async function work(): Promise<void> {
  while (!stopped) {
    try {
      const connection: unknown = await db.client.acquireConnection()
      try {
        while (!stopped && (await holdsLock(connection))) {
          await db('heartbeats').insert({ role: 'jobs', at: new Date() }).onConflict('role').merge()
          await deliverEntries(db)
          await tallyAll(db)
          await postOn(db, { now: new Date(), hour: READERS_HOUR, origin: siteOrigin(), css, log: (reason) => log.error(reason) })
          await drawPictures(db, style)
          await tidyUp()
          if (!(await rehearseOn(db))) await pause(PAUSE)
        }
      } finally {
        await db
          .raw('SELECT RELEASE_LOCK(?)', [LOCK])
          .connection(connection)
          .catch(() => undefined)
        await db.client.releaseConnection(connection)
      }
    } catch (reason) {
      log.warn(reason, 'work was interrupted; it goes on in a moment')
    }
    await pause(1000)
  }
}

const TIDY_EVERY = 10 * 60_000
let tidiedAt = 0
/** What has been kept for as long as it has to be, and processes that are long gone. */
async function tidyUp(): Promise<void> {
  if (Date.now() - tidiedAt < TIDY_EVERY) return
  const pruned = await pruneTrail(db, (await readSettings(db)).auditDays)
  await forgetProcesses(db)
  await emptyBin(db, new Date())
  // Where there was more than is taken away at once, the rest follows at the next turn.
  if (pruned === 0) tidiedAt = Date.now()
}

async function holdsLock(connection: unknown): Promise<boolean> {
  const answer: unknown = await db.raw('SELECT GET_LOCK(?, 1) AS held', [LOCK]).connection(connection)
  return z.tuple([z.array(z.object({ held: z.number().nullable() })), z.unknown()]).parse(answer)[0][0]?.held === 1
}

async function stop(): Promise<void> {
  if (stopped) return
  stopped = true
  setTimeout(() => process.exit(0), 5000).unref()
}
process.on('SIGTERM', () => void stop())
process.on('SIGINT', () => void stop())

log.info('jobs ready')
void work().then(async () => {
  await db.destroy()
  process.exit(0)
})
