import * as z from 'zod'
import { emailSchema, roles } from '@/contract/contract'
import { changeByCommand } from '@/server/accounts/by-command'
import { connect, inTransaction } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { Failure } from '@/server/failure'
import { databasePrograms, ensurePrograms } from './debian'
import { databaseRuns, startDatabase, stopDatabase } from './private-database'
import { processEnvironment, type Settings } from './settings'
import { Trouble } from './trouble'

const USAGE = `./sprig person add <e-mail> [editor|publisher|administrator]   prints a link with which they choose a password
./sprig person reset <e-mail>     prints a link to a new password, and opens the account if it was closed
./sprig person disable <e-mail>   closes the account and signs it out`

const asked = z.tuple([z.enum(['add', 'reset', 'disable']), emailSchema], z.string())

/** Looks after accounts from the command line, also where nobody can sign in any more. */
export async function person(settings: Settings, words: readonly string[]): Promise<number> {
  const parsed = asked.safeParse(words)
  if (!parsed.success) throw new Trouble(`${parsed.error.issues[0]?.message ?? ''}\n${USAGE}`)
  const [what, email, role = 'editor'] = parsed.data
  const as = z.enum(roles).safeParse(role)
  if (!as.success) throw new Trouble(`“${role}” is no role.\n${USAGE}`)
  await ensurePrograms(databasePrograms)
  const ran = databaseRuns(settings)
  if (!ran) await startDatabase(settings, { throwaway: false })
  const db = connect(processEnvironment(settings))
  try {
    await migrate(db)
    console.log(
      await inTransaction(db, (trx) => changeByCommand(trx, { what, email, role: as.data, studio: studioOf(settings) })),
    )
    return 0
  } catch (reason) {
    throw reason instanceof Failure ? new Trouble(reason.message) : reason
  } finally {
    await db.destroy()
    if (!ran) await stopDatabase(settings)
  }
}

function studioOf({ studioPort }: Settings): string {
  return process.env.STUDIO_ADDRESS ?? `http://localhost:${studioPort}`
}
