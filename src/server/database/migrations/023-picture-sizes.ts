import type { Knex } from 'knex'

/** Pictures in the widths in which visitors get them. Those that are there already wait to be made. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `CREATE TABLE media_sizes (
    name CHAR(34) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, width SMALLINT UNSIGNED NOT NULL, type VARCHAR(40) CHARACTER SET ascii NOT NULL,
    body MEDIUMBLOB NOT NULL, PRIMARY KEY (name, width, type))`,
  )
  await db.raw('ALTER TABLE media ADD sized_at DATETIME(3) NULL, ADD INDEX (sized_at)')
  await db.raw("UPDATE media SET sized_at = created_at WHERE type LIKE 'video/%'")
}
