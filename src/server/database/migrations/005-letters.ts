import type { Knex } from 'knex'

const id = 'VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin'

const steps = [
  // Of each visit, where it has come to; a page that was its last one until now is not any more, so days also lessen.
  `ALTER TABLE visits ADD last_id ${id} NULL`,
  `ALTER TABLE daily MODIFY times INT NOT NULL`,
  // For worth per visit: of each visitor their visits times what they brought, added up.
  `ALTER TABLE tallies ADD visits_worth DOUBLE NOT NULL DEFAULT 0`,
  `ALTER TABLE documents MODIFY kind ENUM('page','menu','callToAction','shared','style','template','letter') NOT NULL`,
  `ALTER TABLE call_presses ADD letter INT UNSIGNED NULL`,
  `ALTER TABLE orders ADD letter INT UNSIGNED NULL, ADD INDEX (letter)`,
  // A newsletter as it was sent: its body, its calls to action with the tests on them, and how far the sending has come.
  `CREATE TABLE letters (
    number INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, document_id ${id} NOT NULL, subject VARCHAR(300) NOT NULL, body JSON NOT NULL, calls JSON NOT NULL, plan JSON NOT NULL,
    status ENUM('waiting','sending','sent','stopped') NOT NULL, sent INT UNSIGNED NOT NULL DEFAULT 0, message VARCHAR(300) NOT NULL DEFAULT '', created_at DATETIME(3) NOT NULL, created_by VARCHAR(120) NOT NULL,
    INDEX (document_id, number), INDEX (status, number), FOREIGN KEY (document_id) REFERENCES documents (id))`,
  // The letter in each of the forms in which it was sent; \`carried\` says which version of which test is in it.
  `CREATE TABLE letter_looks (
    letter INT UNSIGNED NOT NULL, look SMALLINT UNSIGNED NOT NULL, carried VARCHAR(1000) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, html MEDIUMTEXT NOT NULL, words MEDIUMTEXT NOT NULL,
    sent INT UNSIGNED NOT NULL DEFAULT 0, PRIMARY KEY (letter, look), FOREIGN KEY (letter) REFERENCES letters (number) ON DELETE CASCADE)`,
  `CREATE TABLE letter_sends (
    letter INT UNSIGNED NOT NULL, recipient BINARY(16) NOT NULL, reader INT UNSIGNED NOT NULL, look SMALLINT UNSIGNED NOT NULL, sent_at DATETIME(3) NOT NULL, opened_at DATETIME(3) NULL, followed_at DATETIME(3) NULL,
    PRIMARY KEY (letter, recipient), FOREIGN KEY (letter) REFERENCES letters (number) ON DELETE CASCADE)`,
  // From the events: each call to action by the version that was in the letter; call_id '' is the letter itself.
  `CREATE TABLE letter_counts (
    letter INT UNSIGNED NOT NULL, call_id ${id} NOT NULL, version ${id} NOT NULL, shown INT UNSIGNED NOT NULL, followed INT UNSIGNED NOT NULL, PRIMARY KEY (letter, call_id, version))`,
  // What the made-up readers are still going to do.
  `CREATE TABLE reader_steps (
    letter INT UNSIGNED NOT NULL, recipient BINARY(16) NOT NULL, step ENUM('open','follow','buy') NOT NULL, at DATETIME(3) NOT NULL, call_id ${id} NULL,
    PRIMARY KEY (letter, recipient, step), INDEX (at), FOREIGN KEY (letter) REFERENCES letters (number) ON DELETE CASCADE)`,
]

export async function up(db: Knex): Promise<void> {
  for (const step of steps) await db.raw(step)
}
