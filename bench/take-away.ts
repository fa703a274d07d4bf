import { openData } from '@/server/formats/open-data'
import type { DataSetName } from '@/core/formats'
import type { RoundId } from '@/core/ids'
import type { Database } from '@/server/database/connect'
import { withOwnDatabase } from './own-database'

/*
 * Data that is taken away is written while it is read: however much there is, no more is in memory. ROWS says how many rows there
 * are of segments; a hundredth of them is what a hundredth of the time is measured by.
 */
const ROWS = Number(process.env.ROWS ?? 1_000_000)
const MOST_MEGABYTES = 120

async function fill(db: Database, round: string, rows: number): Promise<void> {
  const columns =
    'crowd, round_id, epoch, goal_id, version, day, trait, trait_value, exposed, converters, conversions, worth, worth_squared, visits, visits_squared, visits_worth'
  await db.raw(
    `INSERT INTO segment_tallies (${columns})
     SELECT 0, ?, 1, '', 'original', DATE '2025-01-01' + INTERVAL seq DIV 100000 DAY, 'source', CONCAT('from-', seq), 3, 1, 1, 2, 4, 3, 3, 2
     FROM seq_1_to_${rows}`,
    [round],
  )
}

async function take(db: Database, name: DataSetName, round: string) {
  globalThis.gc?.()
  const before = process.memoryUsage().rss
  let [most, bytes, first] = [before, 0, 0]
  const began = performance.now()
  for await (const part of openData(db, name, [round as RoundId], 'csv')) {
    bytes += part.length
    // The heads come before anything is read.
    if (first === 0 && bytes > 1000) first = performance.now() - began
    most = Math.max(most, process.memoryUsage().rss)
  }
  return { seconds: (performance.now() - began) / 1000, first, bytes, grown: (most - before) / 1_048_576 }
}

withOwnDatabase({ folder: 'bench-take-away', port: 4356 }, async (db) => {
  await fill(db, 'few', Math.ceil(ROWS / 100))
  await fill(db, 'many', ROWS)
  await take(db, 'segments', 'few')
  const [few, many] = [await take(db, 'segments', 'few'), await take(db, 'segments', 'many')]
  const perRow = many.seconds / ROWS / (few.seconds / Math.ceil(ROWS / 100))
  console.log(
    `take-away: ${ROWS.toLocaleString('en-GB')} rows, ${(many.bytes / 1e6).toFixed(0)} MB in ${many.seconds.toFixed(0)} s (${Math.round(ROWS / many.seconds).toLocaleString('en-GB')} rows a second), the first after ${many.first.toFixed(0)} ms; memory grew by ${many.grown.toFixed(0)} MB (aim: at most ${MOST_MEGABYTES}), by ${few.grown.toFixed(0)} MB for a hundredth; a row takes ${perRow.toFixed(2)} times as long`,
  )
  if (many.grown > MOST_MEGABYTES || many.first > 5000) process.exitCode = 1
}).catch((reason: unknown) => {
  console.error(reason)
  process.exit(1)
})
