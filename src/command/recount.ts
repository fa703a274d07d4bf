import { connect } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { recountAll } from '@/server/ledger/recount'
import { askForAll, leave, renewLeases } from '@/server/stores/leases'
import { SHARDS } from '@/server/stores/events'
import { databasePrograms, ensurePrograms } from './debian'
import { databaseRuns, startDatabase, stopDatabase } from './private-database'
import { processEnvironment, type Settings } from './settings'
import { Trouble } from './trouble'

const RENEW_EVERY = 1500
/** As long as others may take to give up what they hold, or to be known to be gone. */
const PATIENCE = 30_000

/** Counts everything again beside what is there, also while the site runs: what comes in meanwhile is counted after it. */
export async function recount(settings: Settings): Promise<number> {
  await ensurePrograms(databasePrograms)
  const ran = databaseRuns(settings)
  if (!ran) await startDatabase(settings, { throwaway: false })
  const db = connect(processEnvironment(settings))
  const me = `recount:${process.pid}:${Date.now()}`
  let lost = false
  let renewing: NodeJS.Timeout | undefined
  try {
    await migrate(db)
    if (!(await askForAll(db, me))) throw new Trouble('Another recount is going on.')
    for (const until = Date.now() + PATIENCE; (await renewLeases(db, me)).shards.size < SHARDS;) {
      if (Date.now() > until)
        throw new Trouble('The jobs processes do not give up what they hold. Are they well? See ./sprig status.')
      await new Promise((next) => setTimeout(next, 500))
    }
    renewing = setInterval(() => {
      renewLeases(db, me).then(
        ({ shards }) => (lost ||= shards.size < SHARDS),
        () => (lost = true),
      )
    }, RENEW_EVERY)
    let said = 0
    const differences = await recountAll(db, (done, of) => {
      if (lost) throw new Trouble('The counting was taken over by others meanwhile. Nothing was changed; try again.')
      if (done < of && Date.now() - said < 1000) return
      said = Date.now()
      console.error(`${done.toLocaleString('en')} of ${of.toLocaleString('en')} visitors`)
    })
    if (differences.length === 0) console.log('Counted again: every row is as it was.')
    for (const { table, rows, first } of differences)
      console.log(
        `${table}: ${rows.toLocaleString('en')} ${rows === 1 ? 'row is' : 'rows are'} not as before. The first: ${first}`,
      )
    return 0
  } finally {
    clearInterval(renewing)
    await leave(db, me).catch(() => undefined)
    await db.destroy()
    if (!ran) await stopDatabase(settings)
  }
}
