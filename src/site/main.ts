import { join } from 'node:path'
import pino from 'pino'
import * as z from 'zod'
import { connect } from '@/server/database/connect'
import { writeEvents } from '@/server/stores/events'
import { newestReleaseNumber, readRelease } from '@/server/stores/releases'
import { readAssets } from './assets'
import { compile, type CompiledSite } from './compile/compile'
import { makeSite, scriptAddress, styleAddress } from './site'

const settings = z
  .object({
    SITE_PORT: z.coerce.number().int().default(4200),
    SITE_HOST: z.string().default('127.0.0.1'),
    SPRIG_LOOK: z.string().default(join(process.cwd(), 'public', 'look')),
  })
  .parse(process.env)

const WATCH_EVERY = 250

const log = pino({ name: 'site' })
const db = connect(process.env)
const assets = readAssets(settings.SPRIG_LOOK)
const addresses = { script: scriptAddress(assets), style: styleAddress(assets) }
let current: CompiledSite | null = null
let number = 0

/** Looks for a newer release and switches to it whole. While the database is away, the last one goes on being served. */
async function watch(): Promise<void> {
  try {
    const newest = await newestReleaseNumber(db)
    if (newest === null || newest <= number) return
    const release = await readRelease(db, newest)
    if (release === null) return
    const compiled = compile(release, addresses)
    current = compiled
    number = newest
    log.info({ release: newest, pages: compiled.pages.size }, 'release loaded')
  } catch (reason) {
    log.warn(reason, 'no release could be read')
  }
}

const site = makeSite({
  current: () => current,
  assets,
  writeEvents: (events) => writeEvents(db, events),
  keepEntry: async ({ document, node, values }) => {
    await db('form_entries').insert({ document_id: document, node_id: node, entry: JSON.stringify(values), at: new Date() })
  },
  now: () => Date.now(),
  log: (reason) => log.error(reason),
})

let stopped = false
async function watchOn(): Promise<void> {
  while (!stopped) {
    await watch()
    await new Promise((next) => setTimeout(next, WATCH_EVERY))
  }
}

async function stop(): Promise<void> {
  stopped = true
  await site.close()
  await db.destroy()
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
