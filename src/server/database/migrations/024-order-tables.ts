import type { Knex } from 'knex'

/** Tables of orders are brought in behind their sender's back; and a test says when it was last changed. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `CREATE TABLE order_tables (
    id VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin PRIMARY KEY, name VARCHAR(200) NOT NULL, \`lines\` INT UNSIGNED NOT NULL,
    state VARCHAR(20) CHARACTER SET ascii NOT NULL, sent_at DATETIME(3) NOT NULL, sent_by VARCHAR(120) NOT NULL, account_id VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    plan JSON NULL, asked_at DATETIME(3) NULL, done INT UNSIGNED NOT NULL DEFAULT 0, taken INT UNSIGNED NOT NULL DEFAULT 0,
    known INT UNSIGNED NOT NULL DEFAULT 0, repeated_in_all INT UNSIGNED NOT NULL DEFAULT 0, refused_in_all INT UNSIGNED NOT NULL DEFAULT 0,
    named JSON NOT NULL, fault VARCHAR(500) NOT NULL DEFAULT '', INDEX (state, asked_at), INDEX (account_id, sent_at), INDEX (sent_at))`,
  )
  await db.raw(
    `CREATE TABLE order_table_parts (
    id VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, part INT UNSIGNED NOT NULL, body MEDIUMBLOB NOT NULL, PRIMARY KEY (id, part))`,
  )
  await db.raw(
    'ALTER TABLE tests ADD changed_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3) ON UPDATE CURRENT_TIMESTAMP(3)',
  )
}
