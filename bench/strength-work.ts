import { spawn } from 'node:child_process'
import * as z from 'zod'
import { emptyDatabase } from '@/command/private-database'
import { processEnvironment, type Settings } from '@/command/settings'
import { connect, type Database } from '@/server/database/connect'
import { migrate } from '@/server/database/migrations'
import { columnsOf, readOrderTable } from '@/server/formats/order-table'
import { askForTable, keepTable, progressOf, tableAt } from '@/server/stores/order-tables'

const OLD = 'sprig_bench_old' as const
const LINES = 100_000

/**
 * Begins long work again and again, and kills it at a random moment, so many times; then lets it come to its end.
 *
 * @param within milliseconds, from when its program is there
 * @returns how often it was killed before its end, and whether it came to it
 */
async function killedWork(
  work: string,
  env: NodeJS.ProcessEnv,
  { kills, within }: { readonly kills: number; readonly within: number },
): Promise<{ killed: number; ended: boolean; said: string }> {
  let killed = 0
  let said = ''
  for (let time = 0; ; time++) {
    const child = spawn(process.execPath, ['--import', 'tsx', 'bench/kill-me.ts', work], {
      env,
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    child.stderr.on('data', (part: Buffer) => (said = part.toString()))
    if (time < kills) child.stdout.once('data', () => setTimeout(() => child.kill('SIGKILL'), Math.random() * within))
    const code = await new Promise<number | null>((done) => child.once('exit', done))
    if (code === null) killed++
    else return { killed, ended: code === 0, said }
  }
}

/** A migration from nothing to today, a recount of everything, and a table of orders, each killed on its way. */
export async function workKilled(
  settings: Settings,
  db: Database,
  kills: number,
  sums: () => Promise<unknown>,
): Promise<boolean> {
  const env = (database: string) => ({ ...process.env, ...processEnvironment(settings, database) })
  const each = Math.ceil(kills / 3)
  await emptyDatabase(settings, OLD)
  const migrated = await killedWork('migrate', env(OLD), { kills: each, within: 1500 })
  const isSame = (await schemaOf(settings, OLD)) === (await schemaOf(settings, 'sprig_bench'))
  const before = JSON.stringify(await sums())
  const recounted = await killedWork('recount', env('sprig_bench'), { kills: each, within: 20_000 })
  const isCounted = JSON.stringify(await sums()) === before
  const table = await tableOfOrders(db)
  const brought = await killedWork('orders', env('sprig_bench'), { kills: each, within: 4000 })
  const row = await tableAt(db, table, 'bench')
  const report = row === null ? null : progressOf(row)
  const orders = z
    .object({ n: z.coerce.number() })
    .parse(
      await db('events')
        .where({ kind: 'order' })
        .whereRaw("JSON_VALUE(about, '$.order') LIKE 'strength-%'")
        .count({ n: '*' })
        .first(),
    ).n
  const isBrought = report?.state === 'done' && report.report.taken === LINES && orders === LINES
  console.log(
    `work: a migration killed ${migrated.killed} times, its schema ${isSame ? 'the same' : 'ANOTHER'}; a recount killed ${recounted.killed} times, ` +
      `${isCounted ? 'equal to the unit' : 'DIFFERENT'}; a table of ${LINES} orders killed ${brought.killed} times, ` +
      `${report?.report.taken ?? 0} taken, ${orders} there${[migrated, recounted, brought].map(({ ended, said }) => (ended ? '' : `; DID NOT END: ${said}`)).join('')}`,
  )
  return isSame && isCounted && isBrought && [migrated, recounted, brought].every(({ ended }) => ended)
}

async function tableOfOrders(db: Database): Promise<string> {
  const day = new Date().toISOString().slice(0, 10)
  const lines = Array.from({ length: LINES }, (_, at) => `strength-${at},${day},${(at % 90) + 0.5}`)
  const text = `order,date,amount\n${lines.join('\n')}\n`
  const { mapping, lines: all } = columnsOf(readOrderTable(text))
  const account = { id: 'bench', name: 'Bench' }
  return db.transaction(async (trx) => {
    const table = await keepTable(trx, Buffer.from(text), { name: 'strength', lines: all, account })
    await askForTable(trx, table, account.id, mapping)
    return table
  })
}

async function schemaOf(settings: Settings, database: string): Promise<string> {
  const db = connect(processEnvironment(settings, database))
  try {
    await migrate(db)
    const [tables] = (await db.raw('SHOW TABLES')) as [Record<string, string>[]]
    const texts: string[] = []
    for (const name of tables.flatMap((row) => Object.values(row)).sort()) {
      const [[row]] = (await db.raw('SHOW CREATE TABLE ??', [name])) as [Record<string, string>[]]
      texts.push((row?.['Create Table'] ?? '').replace(/ AUTO_INCREMENT=\d+/, ''))
    }
    return texts.join('\n')
  } finally {
    await db.destroy()
  }
}
