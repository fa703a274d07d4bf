import knex, { type Knex } from 'knex'
import * as z from 'zod'

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
    pool,
    acquireConnectionTimeout: 5000,
  })
}

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

/** Deadlocks and lock waits are ordinary where several write: the work is done again from the start. */
export async function inTransaction<T>(db: Database, work: (trx: Knex.Transaction) => Promise<T>, tries = 5): Promise<T> {
  for (let left = tries; ; left--) {
    try {
      return await db.transaction(work)
    } catch (reason) {
      const code = (reason as { errno?: number }).errno
      if (left <= 1 || (code !== 1213 && code !== 1205)) throw reason
    }
  }
}
