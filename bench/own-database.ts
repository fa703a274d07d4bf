import { resolve } from 'node:path'
import { databasePrograms, ensurePrograms } from '@/command/debian'
import { emptyDatabase, removeDatabase, startDatabase, stopDatabase } from '@/command/private-database'
import { processEnvironment, readSettings, type Settings } from '@/command/settings'
import { connect, type Database } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'

export const DATABASE = 'sprig_bench'

/** A database of a bench's own, with its tables and nothing in them, for as long as the work takes. */
export async function withOwnDatabase<Of>(
  { folder, port }: { folder: string; port: number },
  work: (db: Database, settings: Settings) => Promise<Of>,
): Promise<Of> {
  await ensurePrograms(databasePrograms)
  process.env.SPRIG_HOME = resolve('.sprig', folder)
  const settings = readSettings({ ...process.env, SPRIG_DB_PORT: String(port) })
  await startDatabase(settings, { throwaway: true })
  try {
    await emptyDatabase(settings, DATABASE)
    const db = connect(processEnvironment(settings, DATABASE))
    try {
      await migrate(db)
      return await work(db, settings)
    } finally {
      await db.destroy()
    }
  } finally {
    await stopDatabase(settings)
    removeDatabase(settings)
  }
}
