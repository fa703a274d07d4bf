import type { Knex } from 'knex'
import * as z from 'zod'
import { foldInto, Sums, type First, type Known } from '@/core/ledger'
import { inTransaction, type Database } from '../database/connect'
import { countLetters, forgetLetters } from '../stores/letter-tally'
import { readLetterEvents } from '../stores/events'
import { rulesFor } from './count'
import { noteFirsts, noteOrders } from './registers'
import { addToRows, rowTables } from './rows'
import { readHistories, writeVisitors, type Changed } from './visitors'

const VISITORS_AT_ONCE = 200

export interface Difference {
  readonly table: string
  /** How many rows are not as they were, and the first of them in words. */
  readonly rows: number
  readonly first: string
}

/**
 * Counts everything again beside what is there: from what is kept of events that are gone, and from all events since.
 * Then both are compared, and the new takes the place of the old in one moment. Whoever calls this holds all visitors, so
 * that nobody counts meanwhile; what is broken off leaves everything as it was.
 *
 * @param progress told of the visitors that are done, of so many
 */
export async function recountAll(db: Database, progress: (done: number, of: number) => void): Promise<readonly Difference[]> {
  const anew = [...rowTables.map(({ table }) => table), ...registers.map(({ table }) => table), 'ledger_visitors']
  for (const table of anew) {
    // Of a recount that was broken off: before the new took the place of the old, or just after.
    await db.raw(`DROP TABLE IF EXISTS ${table}_anew, ${table}_old`)
    await db.raw(`CREATE TABLE ${table}_anew LIKE ${table}`)
  }
  for (const { table } of rowTables) await db.raw(`INSERT INTO ${table}_anew SELECT * FROM ${table}_kept`)
  // What their events would say again is gone, or was nobody’s ever.
  for (const { table, keeps } of registers)
    await db.raw(`INSERT INTO ${table}_anew SELECT r.* FROM ${table} AS r
      LEFT JOIN ledger_visitors AS v ON v.crowd = 0 AND v.visitor = r.visitor WHERE ${keeps}`)
  await countVisitorsAnew(db, progress)
  await db.raw('UPDATE orders_anew AS n JOIN orders AS o ON o.number = n.number SET n.closed = o.closed')
  const differences = [
    ...(await Promise.all(rowTables.map((one) => compare(db, one)))).flat(),
    ...(await Promise.all(registers.map((one) => compareRegister(db, one)))).flat(),
    ...(await recountLetters(db)),
  ]
  const renames = anew.flatMap((table) => [`${table} TO ${table}_old`, `${table}_anew TO ${table}`])
  await db.raw(`RENAME TABLE ${renames.join(', ')}`)
  for (const table of anew) await db.raw(`DROP TABLE ${table}_old`)
  return differences
}

/** What is known of visitors beside the rows: kept of those whose events have been taken away, counted again of all others. */
const registers = [
  { table: 'firsts', key: ['subject', 'visitor'], said: ['day'], keeps: 'v.visitor IS NULL OR v.base_at IS NOT NULL' },
  {
    ...{ table: 'orders', key: ['number'], keeps: 'v.visitor IS NULL OR v.base_at IS NOT NULL' },
    said: ['visitor', 'at', 'value', 'refunded', 'call_id', 'channel', 'letter'],
  },
] as const

const headRow = z.object({
  crowd: z.number(),
  visitor: z.instanceof(Buffer).transform((bytes) => bytes.toString('hex')),
  last_at: z.date(),
  last_seq: z.number(),
})

async function countVisitorsAnew(db: Database, progress: (done: number, of: number) => void): Promise<void> {
  const total = z.object({ total: z.coerce.number() }).parse(await db('ledger_visitors').count({ total: '*' }).first()).total
  let done = 0
  let after: { crowd: number; visitor: string } = { crowd: -1, visitor: '' }
  for (;;) {
    const found: unknown[] = await db('ledger_visitors')
      .whereRaw('(crowd, visitor) > (?, ?)', [after.crowd, Buffer.from(after.visitor, 'hex')])
      .orderBy(['crowd', 'visitor'])
      .limit(VISITORS_AT_ONCE)
      .select('crowd', 'visitor', 'last_at', 'last_seq')
    if (found.length === 0) return
    const heads = found.map((row) => headRow.parse(row))
    for (const crowd of new Set(heads.map((head) => head.crowd)))
      await inTransaction(db, (trx) =>
        countGroup(
          trx,
          crowd,
          heads.filter((head) => head.crowd === crowd),
        ),
      )
    done += heads.length
    progress(done, total)
    after = heads.at(-1) ?? after
  }
}

async function countGroup(trx: Knex.Transaction, crowd: number, heads: readonly z.infer<typeof headRow>[]): Promise<void> {
  const isLive = crowd === 0
  const histories = await readHistories(
    trx,
    crowd,
    heads.map(({ visitor }) => visitor),
  )
  const known = new Map<string, Pick<Known, 'state'>>([...histories].map(([visitor, { base }]) => [visitor, { state: base }]))
  const events = [...histories.values()].flatMap(({ counted }) => counted.map(({ event }) => event))
  const rules = await rulesFor(trx, isLive, events, known)
  const sums = new Sums()
  const changed: Changed[] = []
  const newcomers: { visitor: string; firsts: First[] }[] = []
  for (const { visitor, last_at: at, last_seq: seq } of heads) {
    const history = histories.get(visitor)
    if (history === undefined) continue
    const firsts: First[] = []
    const state = foldInto(history.base, history.counted, rules, isLive ? 'everything' : 'tests', { sums, firsts })
    newcomers.push({ visitor, firsts })
    changed.push({ visitor, state, last: { at, seq } })
  }
  await writeVisitors(trx, crowd, changed, true)
  await trx.raw(
    'UPDATE ledger_visitors_anew AS n JOIN ledger_visitors AS o ON o.crowd = n.crowd AND o.visitor = n.visitor SET n.base = o.base, n.base_at = o.base_at WHERE o.base IS NOT NULL AND n.crowd = ? AND n.visitor IN (?)',
    [crowd, heads.map(({ visitor }) => Buffer.from(visitor, 'hex'))],
  )
  await addToRows(trx, crowd, sums.rows(), '_anew')
  if (!isLive) return
  await noteOrders(trx, changed, undefined, 'orders_anew')
  await noteFirsts(trx, newcomers, 'firsts_anew')
}

/** Lines of a register that are not in both, or not the same. */
async function compareRegister(db: Knex, { table, key, said }: (typeof registers)[number]): Promise<Difference[]> {
  const columns = [...key, ...said].join(', ')
  const side = (own: string, sign: 1 | -1) => `SELECT ${columns}, ${sign} AS side FROM ${own}`
  const differing = `SELECT ${key.join(', ')} FROM (${side(`${table}_anew`, 1)} UNION ALL ${side(table, -1)}) AS both_sides
    GROUP BY ${columns} HAVING SUM(side) <> 0`
  const [found] = z
    .tuple([z.array(z.record(z.string(), z.unknown())), z.unknown()])
    .parse(await db.raw(`SELECT DISTINCT ${key.join(', ')} FROM (${differing}) AS d ORDER BY ${key.join(', ')}`))
  const [first] = found
  return first === undefined ? [] : [{ table, rows: found.length, first: String(first[key[0]]) }]
}

/** Rows that differ by more than what adding up cents does. */
async function compare(db: Knex, { table, hasCrowd, columns, sums }: (typeof rowTables)[number]): Promise<Difference[]> {
  const key = [...(hasCrowd ? ['crowd'] : []), ...columns]
  const side = (own: string, sign: 1 | -1) =>
    `SELECT ${key.join(', ')}, ${sums.map((sum) => `${sign} * ${sum} AS ${sum}`).join(', ')} FROM ${own}`
  const apart = sums.map((sum) => `ABS(SUM(${sum})) > 0.005`).join(' OR ')
  const differing = `SELECT ${key.join(', ')}, ${sums.map((sum) => `SUM(${sum}) AS ${sum}`).join(', ')}
    FROM (${side(`${table}_anew`, 1)} UNION ALL ${side(table, -1)}) AS both_sides GROUP BY ${key.join(', ')} HAVING ${apart}`
  const [counted] = z
    .tuple([z.array(z.object({ total: z.coerce.number() })), z.unknown()])
    .parse(await db.raw(`SELECT COUNT(*) AS total FROM (${differing}) AS d`))
  const rows = counted[0]?.total ?? 0
  if (rows === 0) return []
  const [found] = z
    .tuple([z.array(z.record(z.string(), z.unknown())), z.unknown()])
    .parse(await db.raw(`${differing} ORDER BY ${key.join(', ')} LIMIT 1`))
  const first = found[0] ?? {}
  const words = [
    key.map((name) => String(first[name] instanceof Date ? first[name].toISOString().slice(0, 10) : first[name])).join(' '),
    sums
      .filter((sum) => Math.abs(Number(first[sum])) > 0.005)
      .map((sum) => `${sum} ${Number(first[sum]) > 0 ? '+' : ''}${Number(first[sum])}`)
      .join(', '),
  ]
  return [{ table, rows, first: words.join(': ') }]
}

/**
 * Newsletters are counted by event, whatever the order: all at once, or not at all. Where events have been taken away,
 * what readers did stays as it was counted.
 */
async function recountLetters(db: Database): Promise<Difference[]> {
  if ((await db('ledger_visitors').whereNotNull('base_at').first('visitor')) !== undefined) return []
  const read = async (trx: Knex) =>
    JSON.stringify(
      await trx('letter_counts').where('shown', '>', 0).orWhere('followed', '>', 0).orderBy(['letter', 'call_id', 'version']),
    )
  return inTransaction(db, async (trx) => {
    const before = await read(trx)
    await forgetLetters(trx)
    for (let after = 0; ;) {
      const events = await readLetterEvents(trx, after, 2000)
      if (events.length === 0) break
      await countLetters(
        trx,
        events.map(({ event }) => event),
      )
      after = events.at(-1)?.seq ?? after
    }
    return before === (await read(trx)) ? [] : [{ table: 'letter_counts', rows: 1, first: 'what readers of newsletters did' }]
  })
}
