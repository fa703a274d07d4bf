import { randomBytes } from 'node:crypto'
import type { Knex } from 'knex'
import * as z from 'zod'

/** What a column that holds visitors’ numbers keeps of them, and how it forgets one. */
interface Knowing {
  /** What its rows are, for whoever asks what is kept. */
  readonly words: string
  /** Whether its rows are of one crowd each; all others are of live visitors alone. */
  readonly byCrowd: boolean
  /** Forgets the visitor in all rows that are `theirs`. Sums of many are in other tables, and stay. */
  readonly forget: (theirs: Knex.QueryBuilder, trx: Knex) => Promise<unknown>
}

/** Whose an order is that nobody is known of any more. */
export const NOBODY = Buffer.alloc(16)

const goes = (theirs: Knex.QueryBuilder) => theirs.delete()
const ofNobody = (theirs: Knex.QueryBuilder) => theirs.update({ visitor: NOBODY })

/**
 * Everything that knows a visitor by their number: forgetting, taking away after so many days, and showing what is kept all
 * go by this list, and a test finds columns that it forgets.
 */
export const knowingVisitors = {
  'events.visitor': { words: 'events', byCrowd: true, forget: goes },
  'ledger_visitors.visitor': { words: 'summaries of their events', byCrowd: true, forget: goes },
  'firsts.visitor': { words: 'days of first times', byCrowd: false, forget: goes },
  'form_entries.visitor': { words: 'forms that were sent', byCrowd: false, forget: goes },
  'orders.visitor': { words: 'orders', byCrowd: false, forget: ofNobody },
  'reader_steps.recipient': { words: 'steps with a newsletter that are still to come', byCrowd: false, forget: goes },
  // That one was sent counts on, to somebody whom no number names.
  'letter_sends.recipient': {
    words: 'newsletters that were sent',
    byCrowd: false,
    forget: async (theirs, trx) => {
      const rows: unknown[] = await theirs.select('letter', 'recipient')
      for (const row of rows.map((one) => sendRow.parse(one)))
        await trx('letter_sends')
          .where(row)
          .update({ recipient: randomBytes(16) })
    },
  },
} as const satisfies Readonly<Record<`${string}.${string}`, Knowing>>
const all: readonly (readonly [string, Knowing])[] = Object.entries(knowingVisitors)
const sendRow = z.object({ letter: z.number(), recipient: z.instanceof(Buffer) })

interface Whom {
  /** `null` where all crowds are meant: a number is one visitor’s. */
  readonly crowd: number | null
  readonly visitor: Buffer
}

function theirs(db: Knex, column: string, byCrowd: boolean, { crowd, visitor }: Whom): Knex.QueryBuilder | null {
  const [table = '', name = ''] = column.split('.')
  if (!byCrowd) return crowd === null || crowd === 0 ? db(table).where(name, visitor) : null
  return db(table)
    .where(name, visitor)
    .modify((query) => (crowd === null ? undefined : void query.where({ crowd })))
}

/** Forgets all that is known of a visitor, in whatever knows them. */
export async function forgetVisitor(trx: Knex.Transaction, whom: Whom): Promise<void> {
  for (const [column, { byCrowd, forget }] of all) {
    const rows = theirs(trx, column, byCrowd, whom)
    if (rows !== null) await forget(rows, trx)
  }
}

/** How many rows of what are kept of a visitor; nothing that has none. */
export async function rowsKnowing(db: Knex, whom: Whom): Promise<{ words: string; rows: number }[]> {
  const found: { words: string; rows: number }[] = []
  for (const [column, { words, byCrowd }] of all) {
    const counted: unknown = await theirs(db, column, byCrowd, whom)?.count({ rows: '*' }).first()
    const { rows } = z.object({ rows: z.coerce.number() }).parse(counted ?? { rows: 0 })
    if (rows > 0) found.push({ words, rows })
  }
  return found
}
