import type { Knex } from 'knex'

/** An entry that waited on disk can be handed on twice; it has an id so that it is one. */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE form_entries ADD id BINARY(16) NULL UNIQUE')
}
