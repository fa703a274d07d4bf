import { join } from 'node:path'
import { hostname } from 'node:os'
import { logger } from '@/serving/logger'
import * as z from 'zod'
import type { LeftOut } from '@/core/decide'
import { addLeftOut } from '@/server/stores/left-out'
import { connect, isReachable } from '@/server/database/connect'
import { writeEvents } from '@/server/stores/events'
import { keepEntries } from '@/server/stores/form-entries'
import { reachedSince } from '@/server/stores/heard'
import { newestReleaseNumber, readRelease } from '@/server/stores/releases'
import { sayServed } from '@/server/stores/site-processes'
import { readServed } from '@/server/stores/media'
import { mediaNamedIn } from '@/core/media-names'
import type { Release } from '@/core/release'
import { isSecure, siteOrigin } from '@/serving/addresses'
import { clientAddresses } from '@/serving/client-address'
import { regionAt } from '@/serving/regions'
import { keepGoing } from '@/serving/keep-going'
import { usualPolicies } from './answers'
import { readLook, type Look } from '@/server/stores/looks'
import { readAssets } from './assets'
import { libraryFile, type LibraryFile } from '@/serving/library-file'
import { limitsOf, noLimits } from './collect/allowance'
import { holdFolder } from './collect/folder-lock'
import { formEntrySchema, stampedEventSchema } from '@/core/events'
import { Spool } from './collect/spool'
import { compile, type CompiledSite } from './compile/compile'
import { keepRelease, keptRelease } from './last-release'
import { Heard } from './serve/heard'
import { makeSite, scriptAddress, styleAddress } from './site'

const settings = z
  .object({
    SITE_PORT: z.coerce.number().int().default(4200),
    SITE_HOST: z.string().default('127.0.0.1'),
    SPRIG_LOOK: z.string().default(join(process.cwd(), 'public', 'look')),
    SITE_SPOOL: z.string().default(join(process.cwd(), '.sprig', 'spool')),
    /** Megabytes that may wait on disk while the database is away. */
    SITE_SPOOL_LIMIT: z.coerce.number().positive().default(256),
    /** Whether anybody may come as often as they like: for measuring only. */
    SITE_LIMITS: z.enum(['on', 'off']).default('on'),
    SITE_PERMISSIONS_POLICY: z.string().default(usualPolicies['permissions-policy']),
    SITE_OPENER_POLICY: z.string().default(usualPolicies['cross-origin-opener-policy']),
    SPRIG_TRUSTED_PROXIES: z.string().default(''),
  })
  .parse(process.env)

const WATCH_EVERY = 250
const DRAIN_EVERY = 500
/** A database that does not answer a write for so long is away. */
const WRITE_WITHIN = 4000

const SAY_EVERY = 2000

const log = logger('site')
keepGoing((reason) => log.error(reason))
const letGo = folderOfItsOwn()
const db = connect(process.env)
const assets = readAssets(settings.SPRIG_LOOK)
const addresses = { script: scriptAddress(assets), style: styleAddress(assets), origin: siteOrigin() }
let current: CompiledSite | null = null
let number = 0
const media = new Map<string, LibraryFile>()

/** Looks for a newer release and switches to it whole. While the database is away, the last one goes on being served. */
async function watch(): Promise<void> {
  try {
    const newest = await newestReleaseNumber(db)
    if (newest === null || newest <= number) return
    const read = await readRelease(db, newest, current?.release.documents)
    if (read === null) return
    const { release } = read
    const faults = [...read.faults, ...release.unread]
    await loadMedia(release)
    const compiled = compile(release, addresses, current ?? undefined, faults)
    current = compiled
    number = newest
    letGoOfMedia(release, compiled)
    for (const fault of compiled.faults) log.error(fault, 'could not be made for this release')
    await sayWhatIsServed()
    await keepRelease(settings.SITE_SPOOL, release).catch((reason: unknown) => log.warn(reason))
    log.info({ release: newest, pages: compiled.pages.size, compiled: compiled.compiled }, 'release loaded')
  } catch (reason) {
    log.warn(reason, 'no release could be read')
  }
}

let saidAt = 0
/** So that the studio can say what each process really serves. */
async function sayWhatIsServed(): Promise<void> {
  saidAt = Date.now()
  const name = `${hostname()}:${settings.SITE_PORT}`
  await sayServed(db, { name, release: number, faults: current?.faults ?? [], at: new Date() }).catch((reason: unknown) =>
    log.warn(reason),
  )
}

function folderOfItsOwn(): () => void {
  try {
    return holdFolder(settings.SITE_SPOOL)
  } catch (reason) {
    log.fatal(reason, 'the site cannot start')
    process.exit(1)
  }
}

/** Brings the pictures and films that a release shows into memory, before the first visitor can ask for them. */
async function loadMedia(release: Release): Promise<void> {
  await bring(mediaNamedIn(release))
}

async function bring(names: ReadonlySet<string>): Promise<void> {
  // One that waited for its widths has them by now.
  const missing = [...names].filter((name) => media.get(name)?.ready !== true)
  for (const file of await readServed(db, missing)) media.set(file.name, libraryFile(file))
}

/** Names that the release before had: pages that are open in browsers still ask for them. */
let shownBefore = new Set<string>()
/** Once the new release is there: what neither it nor the one before shows. A page that kept its last form keeps its pictures. */
function letGoOfMedia(release: Release, { faults }: CompiledSite): void {
  const shown = mediaNamedIn(release)
  if (faults.length === 0) for (const name of media.keys()) if (!shown.has(name) && !shownBefore.has(name)) media.delete(name)
  shownBefore = shown
}

/** What whoever looks by a link sees may show files that nothing live does. */
async function openLook(key: string): Promise<Look | null> {
  const look = await readLook(db, key)
  if (look !== null) await bring(mediaNamedIn(look.rounds))
  return look
}

/** Until the database has answered: what was served before. */
const kept = keptRelease(settings.SITE_SPOOL)
if (kept !== null) current = compile(kept.release, addresses, undefined, kept.faults)

const isBack = () => isReachable(db)
const warn = (reason: unknown) => log.warn(reason)
const limit = settings.SITE_SPOOL_LIMIT * 1_048_576
const events = new Spool(
  join(settings.SITE_SPOOL, 'events'),
  stampedEventSchema,
  { write: (items) => writeEvents(db, items, WRITE_WITHIN), isReachable: isBack, log: warn },
  limit,
)
const entries = new Spool(
  join(settings.SITE_SPOOL, 'entries'),
  formEntrySchema,
  { write: (items) => keepEntries(db, items, WRITE_WITHIN), isReachable: isBack, log: warn },
  limit,
)

const site = makeSite({
  current: () => current,
  assets,
  media,
  writeEvents: (items) => events.keep(items),
  keepEntry: (entry) => entries.keep([entry]),
  now: () => Date.now(),
  log: (reason) => log.error(reason),
  secure: isSecure(siteOrigin()),
  origin: siteOrigin(),
  addressOf: clientAddresses(settings.SPRIG_TRUSTED_PROXIES),
  regionOf: regionAt,
  limits: settings.SITE_LIMITS === 'off' ? noLimits : limitsOf(),
  openLook,
  addresses,
  noteLeftOut: (reason) => void leftOut.set(reason, (leftOut.get(reason) ?? 0) + 1),
  number: () => number,
  heardOf: (visitor) => heard.of(visitor),
  policies: {
    'permissions-policy': settings.SITE_PERMISSIONS_POLICY,
    'cross-origin-opener-policy': settings.SITE_OPENER_POLICY,
  },
})

const SAY_LEFT_OUT_EVERY = 5000
/** Pages shown to those who are left out, since it was last written down. */
let leftOut = new Map<LeftOut, number>()
async function writeLeftOut(): Promise<void> {
  if (leftOut.size === 0) return
  const counts = leftOut
  leftOut = new Map()
  await addLeftOut(db, counts).catch((reason: unknown) => {
    // Written with the next, when the database is back.
    for (const [why, times] of counts) leftOut.set(why, (leftOut.get(why) ?? 0) + times)
    log.warn(reason)
  })
}

const LISTEN_EVERY = 2000
const HEARD_DAYS = 90
const HEARD_AT_ONCE = 200_000
const ALL_AGAIN_EVERY = 600_000
const heard = new Heard()
let allHeard = { of: '', at: 0 }
/** Who reached what only counting can tell: all of them now and then, and in between those of the last two days. */
async function listen(): Promise<void> {
  const goals = current?.goalsHeard ?? []
  if (goals.length === 0) return
  const isWhole = allHeard.of !== goals.join() || Date.now() - allHeard.at > ALL_AGAIN_EVERY
  const since = new Date(Date.now() - (isWhole ? HEARD_DAYS : 2) * 86_400_000).toISOString().slice(0, 10)
  try {
    const found = await reachedSince(db, goals, since, HEARD_AT_ONCE)
    if (!isWhole) return heard.take(found)
    heard.takeAll(found)
    allHeard = { of: goals.join(), at: Date.now() }
  } catch (reason) {
    log.warn(reason)
  }
}

let stopped = false
async function listenOn(): Promise<void> {
  while (!stopped) {
    await listen()
    await new Promise((next) => setTimeout(next, LISTEN_EVERY))
  }
}

async function writeOn(): Promise<void> {
  while (!stopped) {
    await writeLeftOut()
    await new Promise((next) => setTimeout(next, SAY_LEFT_OUT_EVERY))
  }
}

async function watchOn(): Promise<void> {
  while (!stopped) {
    await watch()
    if (number > 0 && Date.now() - saidAt > SAY_EVERY) await sayWhatIsServed()
    await new Promise((next) => setTimeout(next, WATCH_EVERY))
  }
}

/** What waited on disk goes on to the database as soon as that is back. */
async function drainOn(): Promise<void> {
  while (!stopped) {
    for (const spool of [events, entries]) {
      if (!spool.isEmpty && (await isBack())) {
        const done = await spool.drain().catch((reason: unknown) => log.error(reason))
        if (done === true) log.info('what waited on disk has been written')
      }
    }
    await new Promise((next) => setTimeout(next, DRAIN_EVERY))
  }
}

async function stop(): Promise<void> {
  stopped = true
  await site.close()
  await Promise.all([events.close(), entries.close(), writeLeftOut()])
  await db.destroy()
  letGo()
  process.exit(0)
}
process.on('SIGTERM', () => void stop())
process.on('SIGINT', () => void stop())

void site.listen({ port: settings.SITE_PORT, host: settings.SITE_HOST }).then(
  () => log.info({ port: settings.SITE_PORT }, 'site listening'),
  (reason) => {
    log.fatal(reason, 'the site cannot listen')
    process.exit(1)
  },
)
void watchOn()
void drainOn()
void writeOn()
void listenOn()
