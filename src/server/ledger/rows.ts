import type { Knex } from 'knex'
import { insertMany } from '../database/many-rows'
import { books, type BookName, type KeyOf, type Row, type SumOf } from '@/core/ledger'

interface Table<Name extends BookName> {
  readonly table: string
  /** A rehearsal’s rows are its own. */
  readonly hasCrowd: boolean
  readonly columns: Readonly<Record<KeyOf<Name> | SumOf<Name>, string>>
}

const roundColumns = {
  round: 'round_id',
  epoch: 'epoch',
  goal: 'goal_id',
  version: 'version',
  day: 'day',
  exposed: 'exposed',
  converters: 'converters',
  conversions: 'conversions',
  worth: 'worth',
  worthSquared: 'worth_squared',
  visits: 'visits',
  visitsSquared: 'visits_squared',
  visitsWorth: 'visits_worth',
} as const

/** Where each book is kept, and in which column what of it: one that is forgotten does not compile. */
const tables: { readonly [Name in BookName]: Table<Name> } = {
  tests: { table: 'tallies', hasCrowd: true, columns: { ...roundColumns, assigned: 'assigned' } },
  segments: { table: 'segment_tallies', hasCrowd: true, columns: { ...roundColumns, trait: 'trait', value: 'trait_value' } },
  worths: {
    table: 'worth_classes',
    hasCrowd: true,
    columns: {
      ...{ round: 'round_id', epoch: 'epoch', goal: 'goal_id', version: 'version', class: 'class', visitors: 'visitors' },
      ...{ worth: 'worth', worthSquared: 'worth_squared', visits: 'visits', visitsWorth: 'visits_worth' },
    },
  },
  earlier: {
    table: 'earlier_tallies',
    hasCrowd: true,
    columns: {
      ...{ round: 'round_id', epoch: 'epoch', goal: 'goal_id', version: 'version', past: 'past' },
      ...{ exposed: 'exposed', converters: 'converters' },
    },
  },
  beside: {
    table: 'beside_tallies',
    hasCrowd: true,
    columns: {
      ...{ round: 'round_id', epoch: 'epoch', version: 'version', other: 'other_round', shown: 'other_version' },
      ...{ exposed: 'exposed', converters: 'converters' },
    },
  },
  doings: {
    table: 'doings',
    hasCrowd: true,
    columns: {
      ...{ round: 'round_id', version: 'version', document: 'document_id' },
      ...{ doing: 'doing', what: 'what', times: 'times', visitors: 'visitors' },
    },
  },
  site: {
    table: 'daily',
    hasCrowd: false,
    columns: { subject: 'subject', day: 'day', times: 'times', visitors: 'visitors', worth: 'worth' },
  },
  calls: {
    table: 'call_daily',
    hasCrowd: false,
    columns: {
      call: 'call_id',
      day: 'day',
      document: 'document_id',
      channel: 'channel',
      views: 'views',
      clicks: 'clicks',
      submissions: 'submissions',
      worth: 'worth',
    },
  },
}

const bookNames = Object.keys(books) as BookName[]

/** The tables of rows: their keys and their sums as columns, in the order of their book. */
export const rowTables = bookNames.map((book) => {
  const { table, hasCrowd } = tables[book]
  const columnOf: Readonly<Record<string, string>> = tables[book].columns
  const named = (names: readonly string[]) => names.map((name) => columnOf[name] ?? name)
  return { book, table, hasCrowd, columns: named(books[book].key), sums: named(books[book].sums) }
})

/**
 * Rows stand in three places: those that are read; what of them comes from events that are no longer kept; and those that
 * are being made anew.
 */
export type Place = '' | '_kept' | '_anew'

/**
 * Adds to the rows, in one order, so that two who write the same rows wait for each other and do not lock each other out.
 * What is to be written is made ready first and sent without a pause: others wait for these rows until the end.
 */
export async function addToRows(trx: Knex, crowd: number, rows: readonly Row[], place: Place = ''): Promise<void> {
  const statements = rowTables.flatMap(({ book, table, hasCrowd, columns, sums }) => {
    const mine = rows.filter((row) => row.book === book)
    if (mine.length === 0) return []
    const all = [...(hasCrowd ? ['crowd'] : []), ...columns, ...sums]
    const keyed = mine.map((row) => ({ row, name: row.key.join('\n') })).sort((a, b) => (a.name < b.name ? -1 : 1))
    return insertMany(trx, {
      table: `${table}${place}`,
      columns: all,
      rows: keyed.map(({ row }) => [...(hasCrowd ? [crowd] : []), ...row.key, ...row.sums]),
      onSame: sums.map((sum) => `${sum} = ${sum} + VALUES(${sum})`).join(', '),
    })
  })
  await Promise.all(statements)
}
