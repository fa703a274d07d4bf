import { randomBytes } from 'node:crypto'
import { hostname } from 'node:os'
import { join } from 'node:path'
import { setTimeout as wait } from 'node:timers/promises'
import { logger } from '@/serving/logger'
import * as z from 'zod'
import { connect } from '@/server/database/connect'
import { keepGoing } from '@/serving/keep-going'
import { emptyBin } from '@/server/stores/bin'
import { pruneLeftOut } from '@/server/stores/left-out'
import { pruneTables } from '@/server/stores/order-tables'
import { pruneTrail } from '@/server/stores/audit-trail'
import { sendMissedRefunds } from '@/server/ledger/registers'
import { pruneDraftSteps, pruneEvents, pruneStrangers, pruneVisitors } from '@/server/ledger/retention'
import { isWaiting } from '@/server/stores/events'
import { leave, NOTHING, renewLeases, TERM, type Held } from '@/server/stores/leases'
import { readSettings } from '@/server/stores/settings'
import { forgetProcesses } from '@/server/stores/site-processes'
import { readAssets } from '@/site/assets'
import { siteOrigin } from '@/serving/addresses'
import { READERS_HOUR } from '@/server/stand-ins/letter-service'
import { styleAddress } from '@/site/site'
import { adaptSplits, keepTime } from './by-the-clock'
import { deliverEntries } from './deliver'
import { postOn } from './letters'
import { takeTable } from './orders'
import { rehearseOn } from './rehearse'
import { sizePictures } from './pictures'
import { drawPictures, tallyShare } from './work'

const settings = z.object({ SPRIG_LOOK: z.string().default(join(process.cwd(), 'public', 'look')) }).parse(process.env)
const PAUSE = 200
const RENEW_EVERY = 1500

const log = logger('jobs')
keepGoing((reason) => log.error(reason))
const db = connect(process.env)
const assets = readAssets(settings.SPRIG_LOOK)
const style = styleAddress(assets)
const css = assets.get('/look/site.css')?.body.toString() ?? ''
/** Another one in each life, so that what a process held that died is nobody’s. */
const me = `${hostname().slice(0, 30)}:${process.pid}:${randomBytes(4).toString('hex')}`
let held: Held = NOTHING
/** By the clock of this process alone. */
let sureUntil = 0
const stopping = new AbortController()

/** Over at once when the process stops. */
const pause = (milliseconds: number) => wait(milliseconds, undefined, { signal: stopping.signal }).catch(() => undefined)

/** Does something again and again until the process stops; what goes wrong goes on in a moment. */
async function goOn(what: string, work: () => Promise<number>): Promise<void> {
  while (!stopping.signal.aborted) {
    try {
      await pause(await work())
    } catch (reason) {
      log.warn(reason, `${what} was interrupted; it goes on in a moment`)
      await pause(1000)
    }
  }
}

/** Says that it is there, and holds what is its share: whoever says nothing for seconds loses it to the others. */
async function keepLeases(): Promise<number> {
  try {
    const asked = performance.now()
    held = await renewLeases(db, me)
    sureUntil = asked + TERM
  } catch (reason) {
    held = NOTHING
    throw reason
  }
  return RENEW_EVERY
}

/** Every process counts its share of the visitors. */
async function count(): Promise<number> {
  const { shards } = held
  if (shards.size > 0) await tallyShare(db, { me, shards }, (aside) => log.error(aside, 'an event was set aside'))
  return PAUSE
}

const KEEP_TIME_EVERY = 5000
const STOP_RULES_EVERY = 60_000
let stopRulesAt = -STOP_RULES_EVERY
/** What tests do by the clock. */
async function keepClock(): Promise<number> {
  // A stop rule asks for whole results; once a minute is often enough for what takes days.
  const stopRules = performance.now() - stopRulesAt > STOP_RULES_EVERY
  await keepTime(db, new Date(), { stopRules, log: (reason) => log.error(reason) })
  if (stopRules) stopRulesAt = performance.now()
  await adaptSplits(db, new Date())
  return KEEP_TIME_EVERY
}

/**
 * What one of the processes does for all, as long as it is sure that it is the one. Each chore goes on by itself: one that
 * takes minutes, or that goes wrong again and again, holds up no other.
 */
const chores: Readonly<Record<string, () => Promise<number>>> = {
  'handing entries over': async () => {
    await deliverEntries(db)
    return PAUSE
  },
  'sending letters': async () => {
    const said = { css, log: (reason: unknown) => log.error(reason) }
    await postOn(db, { now: new Date(), hour: READERS_HOUR, origin: siteOrigin(), ...said })
    return PAUSE
  },
  'keeping the clock': keepClock,
  'sending missed refunds': async () => {
    await sendMissedRefunds(db)
    return PAUSE
  },
  'tidying up': tidyUp,
  'making pictures': async () =>
    (await sizePictures(db, (reason) => log.error(reason, 'a picture cannot be read'))) ? 0 : PICTURES_EVERY,
  'bringing in orders': async () => ((await takeTable(db, leads)) ? 0 : PAUSE),
  rehearsing: async () => ((await rehearseOn(db, untilCounted)) ? 0 : PAUSE),
  drawing: async () => {
    await drawPictures(db, style, (reason) => log.error(reason, 'a settled test could not be drawn'))
    return PAUSE
  },
}

const PICTURES_EVERY = 1000

const leads = () => held.lead && performance.now() < sureUntil

/** Whoever counts it: nothing waits any more. */
async function untilCounted(crowd: number): Promise<void> {
  while (!stopping.signal.aborted && (await isWaiting(db, crowd))) await pause(50)
}

const TIDY_EVERY = 10 * 60_000
/** What has been kept for as long as it has to be, and processes that are long gone. */
async function tidyUp(): Promise<number> {
  const pruned = await pruneTrail(db, (await readSettings(db)).auditDays)
  await forgetProcesses(db)
  const { eventDays, visitorDays } = await readSettings(db)
  const gone =
    (await pruneEvents(db, eventDays, new Date())) +
    (await pruneVisitors(db, visitorDays, new Date())) +
    (await pruneStrangers(db, visitorDays, new Date()))
  const steps = await pruneDraftSteps(db, new Date())
  await emptyBin(db, new Date())
  await pruneLeftOut(db)
  await pruneTables(db, new Date())
  // Where there was more than is taken away at once, the rest follows at the next turn.
  return pruned + gone + steps === 0 ? TIDY_EVERY : PAUSE
}

async function stop(): Promise<void> {
  if (stopping.signal.aborted) return
  stopping.abort()
  setTimeout(() => process.exit(0), 5000).unref()
}
process.on('SIGTERM', () => void stop())
process.on('SIGINT', () => void stop())

log.info('jobs ready')
void Promise.all([
  goOn('holding its share', keepLeases),
  goOn('counting', count),
  ...Object.entries(chores).map(([what, chore]) => goOn(what, async () => (leads() ? chore() : PAUSE))),
]).then(async () => {
  await leave(db, me).catch(() => undefined)
  await db.destroy()
  process.exit(0)
})
