import type { Knex } from 'knex'

type Value = string | number | Buffer | Date | null

interface Insert {
  readonly table: string
  readonly columns: readonly string[]
  /** At least one; values in the order of the columns. */
  readonly rows: readonly (readonly Value[])[]
  /** What follows ON DUPLICATE KEY UPDATE. */
  readonly onSame: string
}

/**
 * Many rows in one statement, given to the driver whole: with a placeholder for each value, looking through the statement for
 * all of them takes longer than writing what they stand for.
 */
export function insertMany(db: Knex, { table, columns, rows, onSame }: Insert): Knex.Raw {
  return db.raw(`INSERT INTO ${table} (${columns.join(', ')}) VALUES ? ON DUPLICATE KEY UPDATE ${onSame}`, [asBinding(rows)])
}

/** The builder knows lists of one type; the driver takes rows of any, each value escaped by its own type. */
const asBinding = (rows: Insert['rows']) => rows as unknown as Knex.Value
