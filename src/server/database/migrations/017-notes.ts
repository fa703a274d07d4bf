import type { Knex } from 'knex'

/**
 * What is written down about a test while it is made and runs, and under what it is found again; what a rehearsal found on its
 * way through the pages.
 */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE rehearsals ADD found JSON NULL')
  await db.raw(`ALTER TABLE tests ADD notes JSON NOT NULL DEFAULT '[]', ADD tags JSON NOT NULL DEFAULT '[]'`)
}
