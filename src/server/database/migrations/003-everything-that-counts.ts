import type { Knex } from 'knex'

const id = 'VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin'
const subject = 'VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin'

const steps = [
  // What only some kinds of events have is in `about`.
  `ALTER TABLE events MODIFY kind ENUM('assigned','seen','page','click','call','form','outbound','read','stay','order','event','letter') NOT NULL,
    ADD about JSON NULL`,
  `ALTER TABLE conversions ADD orders JSON NULL`,
  `ALTER TABLE firsts MODIFY subject ${subject} NOT NULL`,
  `ALTER TABLE daily MODIFY subject ${subject} NOT NULL, ADD worth DOUBLE NOT NULL DEFAULT 0`,
  // A goal as it is being edited, and as it counts; archived, it counts no more and stays readable.
  `ALTER TABLE goals ADD published JSON NULL, ADD archived TINYINT NOT NULL DEFAULT 0, ADD lock_version INT UNSIGNED NOT NULL DEFAULT 0,
    ADD updated_at DATETIME(3) NULL, ADD updated_by VARCHAR(120) NOT NULL DEFAULT ''`,
  `UPDATE goals SET published = body, updated_at = created_at`,
  `ALTER TABLE goals MODIFY updated_at DATETIME(3) NOT NULL, ADD INDEX (archived, name)`,
  // The visit that each visitor made last: where it began, and whether more than that was looked at.
  `CREATE TABLE visits (
    visitor BINARY(16) PRIMARY KEY, began_at DATETIME(3) NOT NULL, document_id ${id} NOT NULL, stayed TINYINT NOT NULL, INDEX (began_at))`,
  // What was sent with a form waits here until the service behind the form has taken it.
  `ALTER TABLE form_entries ADD visitor BINARY(16) NULL, ADD status ENUM('waiting','accepted','refused') NOT NULL DEFAULT 'accepted',
    ADD tries INT UNSIGNED NOT NULL DEFAULT 0, ADD next_at DATETIME(3) NULL, ADD message VARCHAR(300) NOT NULL DEFAULT '', ADD INDEX (status, next_at)`,
  // Orders as they were reported; whether one is closed is for the shop to say.
  `CREATE TABLE orders (
    number VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin PRIMARY KEY, visitor BINARY(16) NOT NULL, at DATETIME(3) NOT NULL, value DOUBLE NOT NULL, refunded DOUBLE NOT NULL DEFAULT 0,
    closed TINYINT NOT NULL DEFAULT 0, call_id ${id} NULL, channel ENUM('page','newsletter') NULL, INDEX (at), INDEX (call_id, at))`,
  // Who may report from elsewhere: one key for an origin, of which only the hash is kept.
  `CREATE TABLE report_keys (
    id ${id} PRIMARY KEY, name VARCHAR(120) NOT NULL, origin VARCHAR(200) NOT NULL, hash BINARY(32) NOT NULL, created_at DATETIME(3) NOT NULL, created_by VARCHAR(120) NOT NULL,
    revoked_at DATETIME(3) NULL, UNIQUE (hash))`,
]

export async function up(db: Knex): Promise<void> {
  for (const step of steps) await db.raw(step)
}
