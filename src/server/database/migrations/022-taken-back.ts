import type { Knex } from 'knex'

const id = 'VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin'

/** Links to look at the site, and calendars’ addresses, can be taken back: each is known by a number, and by whose it is. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `ALTER TABLE looks ADD number INT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE, ADD account_id ${id} NULL, ADD INDEX (account_id)`,
  )
  await db.raw('ALTER TABLE accounts ADD calendar INT UNSIGNED NOT NULL DEFAULT 0')
}
