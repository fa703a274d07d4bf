import type { Knex } from 'knex'

const rows = ['tallies', 'segment_tallies', 'worth_classes', 'doings']
const tables = ['events', 'ledger_visitors', ...rows, ...rows.map((table) => `${table}_kept`)]

/**
 * Whose visitors they are, real ones or those of a rehearsal, was called by the same name as where visitors come from.
 * Nothing is copied: a column has another name.
 */
export async function up(db: Knex): Promise<void> {
  for (const table of tables) await db.raw(`ALTER TABLE ${table} RENAME COLUMN source TO crowd`)
}
