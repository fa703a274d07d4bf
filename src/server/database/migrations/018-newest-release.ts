import type { Knex } from 'knex'

/** The one row that whoever makes the next release holds first, and counts on: its number is that of the newest release. */
export async function up(db: Knex): Promise<void> {
  await db.raw('CREATE TABLE newest_release (one TINYINT PRIMARY KEY, number INT NOT NULL, CHECK (one = 1))')
  await db.raw('INSERT INTO newest_release (one, number) SELECT 1, COALESCE(MAX(number), 0) FROM releases')
}
