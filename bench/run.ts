import { resolve } from 'node:path'
import { databasePrograms, ensurePrograms } from '@/command/debian'
import { emptyDatabase, startDatabase, stopDatabase } from '@/command/private-database'
import { processEnvironment, readSettings } from '@/command/settings'
import { benchCollect } from './collect'
import { benchCompile, benchManySlots } from './many-slots'
import { benchDecide } from './decide'
import { benchServe } from './serve'

/** Every figure is a ratio to something measured in the same run: absolute times say more about the machine. */
async function run(): Promise<void> {
  benchCompile()
  benchManySlots()
  benchDecide()
  await benchServe()
  ensurePrograms(databasePrograms)
  process.env.SPRIG_HOME = resolve('.sprig', 'bench')
  const settings = readSettings({ ...process.env, SPRIG_DB_PORT: '4326' })
  // Durable as in service: every commit is on disk before it is answered.
  await startDatabase(settings, { throwaway: false })
  try {
    await emptyDatabase(settings, 'sprig_bench')
    await benchCollect(processEnvironment(settings, 'sprig_bench'))
  } finally {
    await stopDatabase(settings)
  }
}

run().then(
  () => process.exit(0),
  (reason) => {
    console.error(reason)
    process.exit(1)
  },
)
