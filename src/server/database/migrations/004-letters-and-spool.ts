import type { Knex } from 'knex'

const id = 'VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin'

const steps = [
  // An entry that waited on disk can be handed on twice; it has an id so that it is one.
  `ALTER TABLE form_entries ADD id BINARY(16) NULL UNIQUE`,
  `CREATE TABLE letters (
    number INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, body JSON NOT NULL, campaign VARCHAR(120) NOT NULL DEFAULT '', lock_version INT UNSIGNED NOT NULL DEFAULT 0,
    status ENUM('draft','sending','sent') NOT NULL DEFAULT 'draft', sent_at DATETIME(3) NULL, sent_by VARCHAR(120) NOT NULL DEFAULT '',
    updated_at DATETIME(3) NOT NULL, updated_by VARCHAR(120) NOT NULL, INDEX (campaign), INDEX (status, number))`,
  // Each call to action in each letter that was sent, with the version it carries, and what came of it.
  `CREATE TABLE letter_sends (
    letter INT UNSIGNED NOT NULL, recipient BINARY(16) NOT NULL, call_id ${id} NOT NULL, test VARCHAR(40) CHARACTER SET ascii NULL, version ${id} NOT NULL,
    shown TINYINT NOT NULL DEFAULT 0, followed TINYINT NOT NULL DEFAULT 0,
    PRIMARY KEY (letter, call_id, recipient))`,
]

export async function up(db: Knex): Promise<void> {
  for (const step of steps) await db.raw(step)
}
