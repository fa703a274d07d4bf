import type { Knex } from 'knex'
import * as z from 'zod'
import { unknownVisitor, visitorSchema, type History, type Known } from '@/core/ledger'
import { jsonColumn } from '../database/json-column'
import { readCounted, type WaitingEvent } from '../stores/events'

const rowSchema = z.object({
  visitor: z.instanceof(Buffer).transform((bytes) => bytes.toString('hex')),
  state: jsonColumn(visitorSchema),
  last_at: z.date(),
  last_seq: z.number(),
})

/** @param held until the transaction ends, by whoever counts them: nothing of theirs is pruned or taken away meanwhile */
export async function readVisitors(
  trx: Knex,
  source: number,
  visitors: readonly string[],
  held: boolean,
): Promise<Map<string, Known>> {
  const rows: unknown[] = await trx('ledger_visitors')
    .where({ source })
    .whereIn('visitor', visitors.map(bytesOf))
    .select('visitor', 'state', 'last_at', 'last_seq')
    .modify((query) => void (held && query.forUpdate()))
  return new Map(
    rows
      .map((row) => rowSchema.parse(row))
      .map(({ visitor, state, last_at: at, last_seq: seq }) => [visitor, { state, last: { at, seq } }]),
  )
}

export interface Changed extends Known {
  readonly visitor: string
}

/** @param anew into the place where counts are made anew */
export async function writeVisitors(trx: Knex, source: number, changed: readonly Changed[], anew = false): Promise<void> {
  if (changed.length === 0) return
  await trx.raw(
    `INSERT INTO ledger_visitors${anew ? '_anew' : ''} (source, visitor, state, last_at, last_seq) VALUES ${changed.map(() => '(?,?,?,?,?)').join(',')}
     ON DUPLICATE KEY UPDATE state = VALUES(state), last_at = VALUES(last_at), last_seq = VALUES(last_seq)`,
    changed.flatMap(({ visitor, state, last }) => [
      source,
      bytesOf(visitor),
      JSON.stringify(z.encode(visitorSchema, state)),
      last.at,
      last.seq,
    ]),
  )
}

/** Visitors as of the beginning of what is kept, and what was counted since but for these events. */
export async function readHistories(
  trx: Knex,
  source: number,
  visitors: readonly string[],
  but: ReadonlySet<number> = new Set(),
): Promise<Map<string, History>> {
  if (visitors.length === 0) return new Map()
  const rows: unknown[] = await trx('ledger_visitors')
    .where({ source })
    .whereIn('visitor', visitors.map(bytesOf))
    .whereNotNull('base')
    .select('visitor', 'base')
  const bases = new Map(rows.map((row) => baseRow.parse(row)).map(({ visitor, base }) => [visitor, base]))
  const histories = new Map(
    visitors.map((visitor) => [visitor, { base: bases.get(visitor) ?? unknownVisitor(), counted: [] as WaitingEvent[] }]),
  )
  for (const row of await readCounted(trx, source, visitors))
    if (!but.has(row.seq)) histories.get(row.event.visitor)?.counted.push(row)
  return histories
}

const baseRow = z.object({
  visitor: z.instanceof(Buffer).transform((bytes) => bytes.toString('hex')),
  base: jsonColumn(visitorSchema),
})

export function bytesOf(hex: string): Buffer {
  return Buffer.from(hex, 'hex')
}
