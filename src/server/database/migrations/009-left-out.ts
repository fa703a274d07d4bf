import type { Knex } from 'knex'

/** How many pages were shown to whom no test and no count is for, by day (UTC) and why. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    'CREATE TABLE left_out (day DATE NOT NULL, reason VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, times BIGINT UNSIGNED NOT NULL, PRIMARY KEY (day, reason))',
  )
}
