import type { Knex } from 'knex'
import * as z from 'zod'
import { leftOutReasons, type LeftOut } from '@/core/decide'

const DAYS = 7
const KEPT_DAYS = 60

/** Adds to what was shown today to those who are left out. */
export async function addLeftOut(db: Knex, counts: ReadonlyMap<LeftOut, number>): Promise<void> {
  const rows = [...counts].filter(([, times]) => times > 0)
  if (rows.length === 0) return
  await db.raw(
    `INSERT INTO left_out (day, reason, times) VALUES ${rows.map(() => '(UTC_DATE(), ?, ?)').join(',')}
     ON DUPLICATE KEY UPDATE times = times + VALUES(times)`,
    rows.flat(),
  )
}

const row = z.object({ reason: z.enum(leftOutReasons as [LeftOut, ...LeftOut[]]), times: z.coerce.number() })

/** Pages shown to each of them in the last seven days. */
export async function leftOutLately(db: Knex): Promise<Map<LeftOut, number>> {
  const rows: unknown[] = await db('left_out')
    .whereRaw('day > UTC_DATE() - INTERVAL ? DAY', [DAYS])
    .groupBy('reason')
    .select('reason', db.raw('SUM(times) AS times'))
  return new Map(rows.map((one) => row.parse(one)).map(({ reason, times }) => [reason, times]))
}

/** @returns how many rows went */
export async function pruneLeftOut(db: Knex): Promise<number> {
  return db('left_out').whereRaw('day < UTC_DATE() - INTERVAL ? DAY', [KEPT_DAYS]).delete()
}
