import { createHash, randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import * as z from 'zod'
import { Trouble } from './trouble'

const port = (fallback: number) => z.coerce.number().int().min(1024).max(65_535).default(fallback)

const environmentSchema = z.object({
  STUDIO_PORT: port(4100),
  SITE_PORT: port(4200),
  SPRIG_DB_PORT: port(4306),
  SPRIG_HOME: z.string().default('.sprig'),
})

export interface Settings {
  readonly studioPort: number
  readonly sitePort: number
  readonly databasePort: number
  /** Everything that is kept: data, logs, the database's password. */
  readonly home: string
  readonly data: string
  /** Short, whatever the folder is called: a socket's path has room for about 100 characters. */
  readonly socket: string
  readonly password: string
}

export function readSettings(environment: NodeJS.ProcessEnv): Settings {
  const parsed = environmentSchema.safeParse(environment)
  if (!parsed.success)
    throw new Trouble(
      `${parsed.error.issues[0]?.path.join('.')}: ${parsed.error.issues[0]?.message}. Give a port between 1024 and 65535.`,
    )
  const { STUDIO_PORT, SITE_PORT, SPRIG_DB_PORT, SPRIG_HOME } = parsed.data
  const home = resolve(SPRIG_HOME)
  mkdirSync(home, { recursive: true, mode: 0o755 })
  const socketFolder = join(tmpdir(), `sprig-${createHash('sha256').update(home).digest('hex').slice(0, 12)}`)
  return {
    studioPort: STUDIO_PORT,
    sitePort: SITE_PORT,
    databasePort: SPRIG_DB_PORT,
    home,
    data: join(home, 'database'),
    socket: join(socketFolder, 'db.sock'),
    password: keptPassword(home),
  }
}

/** The database's password: made once, readable only by its owner. */
function keptPassword(home: string): string {
  const file = join(home, 'database-password')
  if (!existsSync(file)) writeFileSync(file, randomBytes(24).toString('base64url'), { mode: 0o600 })
  return readFileSync(file, 'utf8').trim()
}

/** Where the site is told to be; else where it is on this machine. */
export function siteAddress({ sitePort }: Settings): string {
  return process.env.SITE_ADDRESS ?? `http://localhost:${sitePort}`
}

/** What the studio, the site and the jobs find in their environment. */
export function processEnvironment(settings: Settings, database = 'sprig'): NodeJS.ProcessEnv {
  return {
    ...process.env,
    NODE_ENV: 'production',
    NEXT_TELEMETRY_DISABLED: '1',
    SPRIG_DB_HOST: '127.0.0.1',
    SPRIG_DB_PORT: String(settings.databasePort),
    SPRIG_DB_USER: 'sprig',
    SPRIG_DB_PASSWORD: settings.password,
    SPRIG_DB_NAME: database,
    SITE_SPOOL: spoolOf(settings, database),
    STUDIO_PORT: String(settings.studioPort),
    SITE_PORT: String(settings.sitePort),
    SITE_ADDRESS: siteAddress(settings),
    STUDIO_ADDRESS: process.env.STUDIO_ADDRESS ?? `http://localhost:${settings.studioPort}`,
  }
}

/** What waits on disk for a database belongs to that database alone. */
export function spoolOf({ home }: Settings, database: string): string {
  return join(home, 'spool', database)
}
