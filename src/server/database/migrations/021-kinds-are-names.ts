import type { Knex } from 'knex'

const name = 'VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL'

/** A new kind of event or document is a file of the program, and no change of a table that may have a hundred million rows. */
export async function up(db: Knex): Promise<void> {
  await db.raw(`ALTER TABLE events MODIFY kind ${name}`)
  await db.raw(`ALTER TABLE documents MODIFY kind ${name}`)
  await db.raw('DROP TABLE IF EXISTS migrations_lock')
}
