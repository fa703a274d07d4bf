import type { Knex } from 'knex'

const ascii = 'CHARACTER SET ascii COLLATE ascii_bin'

const statements = [
  // A round belongs to a test, or to a part that is shown by rule: then to one rule of it, or with '' to all together.
  `ALTER TABLE rounds MODIFY test_number INT UNSIGNED NULL,
    ADD personalization VARCHAR(90) ${ascii} NULL, ADD rule VARCHAR(40) ${ascii} NULL, ADD INDEX (personalization, ended_at)`,
  // How it is found out what rules gain, as it goes live with the next publish.
  `CREATE TABLE gain_plans (
    personalization VARCHAR(90) ${ascii} PRIMARY KEY, document_id VARCHAR(40) ${ascii} NOT NULL, plan JSON NOT NULL, lock_version INT UNSIGNED NOT NULL,
    updated_at DATETIME(3) NOT NULL, updated_by VARCHAR(120) NOT NULL,
    INDEX (document_id), FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE)`,
  // What the notebook says of rules that were taken off.
  `CREATE TABLE gain_entries (
    id VARCHAR(40) ${ascii} PRIMARY KEY, name VARCHAR(300) NOT NULL, body JSON NOT NULL, at DATETIME(3) NOT NULL, INDEX (at))`,
]

export async function up(db: Knex): Promise<void> {
  for (const statement of statements) await db.raw(statement)
}
