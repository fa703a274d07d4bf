import type { Knex } from 'knex'
import * as z from 'zod'
import { keptVisitor, unknownVisitor, visitorSchema, type History, type Known, type VisitorState } from '@/core/ledger'
import { jsonColumn } from '../database/json-column'
import { insertMany } from '../database/many-rows'
import { readCounted, type WaitingEvent } from '../stores/events'

const rowSchema = z.object({
  visitor: z.instanceof(Buffer).transform((bytes) => bytes.toString('hex')),
  state: z.string(),
  last_at: z.date(),
  last_seq: z.number(),
})
const stateSchema = jsonColumn(visitorSchema)

/**
 * Visitors as this process wrote them last, with the text that it wrote: whoever comes again in a moment has not to be read
 * through the schema. One is taken only where the database has the same text, so that nothing depends on who else writes,
 * nor on whether a transaction came to its end. Who is taken is changed by counting, and is put back when written.
 */
class Recent {
  readonly #known = new Map<string, { readonly text: string; readonly state: VisitorState }>()
  constructor(private readonly most: number) {}

  take(crowd: number, visitor: string, text: string): VisitorState {
    const name = `${crowd} ${visitor}`
    const known = this.#known.get(name)
    this.#known.delete(name)
    return known?.text === text ? known.state : stateSchema.parse(text)
  }

  put(crowd: number, visitor: string, text: string, state: VisitorState): void {
    this.#known.set(`${crowd} ${visitor}`, { text, state })
    if (this.#known.size <= this.most) return
    const [oldest] = this.#known.keys()
    if (oldest !== undefined) this.#known.delete(oldest)
  }
}
/** A few kilobytes each. */
const recent = new Recent(8000)

/** @param held until the transaction ends, by whoever counts them: nothing of theirs is pruned or taken away meanwhile */
export async function readVisitors(
  trx: Knex,
  crowd: number,
  visitors: readonly string[],
  held: boolean,
): Promise<Map<string, Known>> {
  // Of a small table all rows would be read, and where they are held, other processes’ waited for.
  const rows: unknown[] = await trx
    .from(trx.raw('ledger_visitors FORCE INDEX (PRIMARY)'))
    .where({ crowd })
    .whereIn('visitor', visitors.map(bytesOf))
    .select('visitor', 'state', 'last_at', 'last_seq')
    .modify((query) => void (held && query.forUpdate()))
  return new Map(
    rows
      .map((row) => rowSchema.parse(row))
      .map(({ visitor, state, last_at: at, last_seq: seq }) => [
        visitor,
        { state: held ? recent.take(crowd, visitor, state) : stateSchema.parse(state), last: { at, seq } },
      ]),
  )
}

export interface Changed extends Known {
  readonly visitor: string
}

/** @param anew into the place where counts are made anew */
export async function writeVisitors(trx: Knex, crowd: number, changed: readonly Changed[], anew = false): Promise<void> {
  if (changed.length === 0) return
  const texts = changed.map(({ state }) => keptVisitor(state))
  await insertMany(trx, {
    table: anew ? 'ledger_visitors_anew' : 'ledger_visitors',
    columns: ['crowd', 'visitor', 'state', 'last_at', 'last_seq'],
    // As bytes: each of its hundreds of quotes would have to be escaped.
    rows: changed.map(({ visitor, last }, index) => [
      crowd,
      bytesOf(visitor),
      Buffer.from(texts[index] ?? ''),
      last.at,
      last.seq,
    ]),
    onSame: 'state = VALUES(state), last_at = VALUES(last_at), last_seq = VALUES(last_seq)',
  })
  if (!anew) changed.forEach(({ visitor, state }, index) => recent.put(crowd, visitor, texts[index] ?? '', state))
}

/** Visitors as of the beginning of what is kept, and what was counted since but for these events. */
export async function readHistories(
  trx: Knex,
  crowd: number,
  visitors: readonly string[],
  but: ReadonlySet<number> = new Set(),
): Promise<Map<string, History>> {
  if (visitors.length === 0) return new Map()
  const rows: unknown[] = await trx('ledger_visitors')
    .where({ crowd })
    .whereIn('visitor', visitors.map(bytesOf))
    .whereNotNull('base')
    .select('visitor', 'base')
  const bases = new Map(rows.map((row) => baseRow.parse(row)).map(({ visitor, base }) => [visitor, base]))
  const histories = new Map(
    visitors.map((visitor) => [visitor, { base: bases.get(visitor) ?? unknownVisitor(), counted: [] as WaitingEvent[] }]),
  )
  for (const row of await readCounted(trx, crowd, visitors))
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
