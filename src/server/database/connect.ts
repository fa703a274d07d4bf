import knex, { type Knex } from 'knex'
import * as z from 'zod'
import { writePending } from '../audit'

export type Database = Knex

export const databaseSettingsSchema = z.object({
  SPRIG_DB_HOST: z.string().default('127.0.0.1'),
  SPRIG_DB_PORT: z.coerce.number().int().min(1).max(65_535).default(4306),
  SPRIG_DB_USER: z.string().default('sprig'),
  SPRIG_DB_PASSWORD: z.string().default(''),
  SPRIG_DB_NAME: z
    .string()
    .regex(/^[a-z0-9_]+$/)
    .default('sprig'),
})

/** One pool for a process. Times go in and out as UTC. */
export function connect(environment: NodeJS.ProcessEnv, pool: { min: number; max: number } = { min: 0, max: 10 }): Database {
  const settings = databaseSettingsSchema.parse(environment)
  return knex({
    client: 'mysql2',
    connection: {
      host: settings.SPRIG_DB_HOST,
      port: settings.SPRIG_DB_PORT,
      user: settings.SPRIG_DB_USER,
      password: settings.SPRIG_DB_PASSWORD,
      database: settings.SPRIG_DB_NAME,
      charset: 'utf8mb4',
      timezone: 'Z',
      connectTimeout: 5000,
    },
    // A connection that is gone is another one the next time; whoever asked by it is told, and says so in a log of ours.
    log: { warn: sayUnlessGone },
    pool: { ...pool, afterCreate: asItIsUsed },
    acquireConnectionTimeout: 5000,
  })
}

const sayUnlessGone = (words: unknown) => {
  if (!String(words).startsWith('Connection Error')) process.stderr.write(`${String(words)}\n`)
}

/**
 * Of a thousand keys and more in a list this database makes a table, joins it, and reads (and, where they are held, waits
 * for) every row there is. A list is what it is however long. Its own clock is UTC, as ours is.
 */
function asItIsUsed(connection: unknown, ready: (failure: Error | null) => void): void {
  queries
    .parse(connection)
    .query("SET SESSION in_predicate_conversion_threshold = 0, time_zone = '+00:00'", (failure) => ready(failure))
}
const queries = z.custom<{ query(sql: string, done: (failure: Error | null) => void): void }>(
  (connection) => typeof connection === 'object' && connection !== null && 'query' in connection,
)

const held = globalThis as { sprigDatabase?: Database }

/** The studio's pool, kept over reloads of its modules in development. */
export function sharedDatabase(): Database {
  return (held.sprigDatabase ??= connect(process.env))
}

export async function isReachable(db: Database): Promise<boolean> {
  try {
    await db.raw('select 1').timeout(2000)
    return true
  } catch {
    return false
  }
}

/**
 * Deadlocks and lock waits are ordinary where several write: the work is done again from the start, a little later each
 * time. What somebody does in it is written into the audit trail with it.
 */
export async function inTransaction<T>(
  db: Database,
  work: (trx: Knex.Transaction) => Promise<T>,
  { tries = 12, isolation }: { tries?: number; isolation?: 'read committed' } = {},
): Promise<T> {
  for (let made = 1; ; made++) {
    try {
      const [done, isWritten] = await db.transaction(
        async (trx) => {
          const result = await work(trx)
          return [result, await writePending(trx)] as const
        },
        isolation === undefined ? {} : { isolationLevel: isolation },
      )
      isWritten()
      return done
    } catch (reason) {
      if (made >= tries || !isCrossed(reason)) throw reason
      // Those who met once would meet again if they all waited the same time.
      await new Promise((next) => setTimeout(next, Math.random() * 20 * made))
    }
  }
}

const numberOf = (reason: unknown) => (reason as { errno?: unknown } | null)?.errno

/** Somebody else made a release meanwhile, on another database: what was read is not what is live. */
export class OvertakenError extends Error {
  constructor(release: number) {
    super(`after release ${release} another one was made meanwhile`)
    this.name = 'OvertakenError'
  }
}

/** Others were writing the same: the work was rolled back, and may be done again from its start. */
function isCrossed(reason: unknown): boolean {
  return reason instanceof OvertakenError || [1213, 1205, 1020].includes(Number(numberOf(reason)))
}

/** Others were in the way for too long, or no connection came free: nothing was done, and it may be tried again. */
export function isBusy(reason: unknown): boolean {
  return isCrossed(reason) || (reason instanceof Error && reason.name === 'KnexTimeoutError')
}

/** A value that a column does not take: the same again would be refused again, whatever else is going on. */
export function isOfData(reason: unknown): boolean {
  return ofData.has(Number(numberOf(reason)))
}
/** Null, range, length, form, key, check, overflow (MariaDB’s error codes). */
const ofData = new Set([1048, 1264, 1265, 1292, 1364, 1366, 1367, 1406, 1411, 1441, 1451, 1452, 1690, 3140, 4025, 4078, 1062])

/** Something that must be there once is there already. */
export function isTaken(reason: unknown): boolean {
  return numberOf(reason) === 1062
}

export function isDatabaseAway(reason: unknown): boolean {
  const code = (reason as { code?: unknown } | null)?.code
  return typeof code === 'string' && (/^(ECONN|ETIMEDOUT|PROTOCOL_|ER_SERVER_SHUTDOWN|EPIPE)/.test(code) || code === 'ENOTFOUND')
}
