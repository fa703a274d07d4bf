import { createHash, randomBytes } from 'node:crypto'
import type { Knex } from 'knex'
import * as z from 'zod'

const id = 'VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin'

const steps = [
  // Two pages cannot be published at one address. A page that already shares one keeps none of its own until it is published anew.
  `ALTER TABLE documents ADD published_path VARCHAR(300) NULL UNIQUE`,
  `UPDATE IGNORE documents AS d JOIN revisions AS r ON r.document_id = d.id AND r.number = d.published_revision
    SET d.published_path = JSON_VALUE(r.body, CONCAT('$.nodes."', JSON_VALUE(r.body, '$.root'), '".props.path')) WHERE d.kind = 'page'`,
  // The scripts that administrators put in; no other runs.
  `CREATE TABLE approved_scripts (digest CHAR(44) CHARACTER SET ascii COLLATE ascii_bin PRIMARY KEY, approved_at DATETIME(3) NOT NULL, approved_by VARCHAR(120) NOT NULL)`,
  // A file in parts, each well within what a database takes in one statement.
  `CREATE TABLE media_parts (
    name CHAR(34) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, part SMALLINT UNSIGNED NOT NULL, body MEDIUMBLOB NOT NULL,
    PRIMARY KEY (name, part), FOREIGN KEY (name) REFERENCES media (name) ON DELETE CASCADE)`,
  `INSERT INTO media_parts SELECT m.name, n.part, SUBSTRING(m.body, n.part * 2000000 + 1, 2000000) FROM media AS m
    JOIN (WITH RECURSIVE parts AS (SELECT 0 AS part UNION ALL SELECT part + 1 FROM parts WHERE part < 40) SELECT part FROM parts) AS n
    ON n.part * 2000000 < LENGTH(m.body)`,
  `ALTER TABLE media DROP COLUMN body`,
  // What each site process really serves.
  `CREATE TABLE site_processes (
    name VARCHAR(200) PRIMARY KEY, release_number INT UNSIGNED NOT NULL, faults JSON NOT NULL, at DATETIME(3) NOT NULL, INDEX (at))`,
  // A session is a family of tokens: one after the other, ended together.
  `DELETE FROM sessions`,
  `ALTER TABLE sessions ADD family BINARY(16) NOT NULL, ADD replaced TINYINT NOT NULL DEFAULT 0, ADD INDEX (family)`,
  `ALTER TABLE accounts ADD disabled TINYINT NOT NULL DEFAULT 0, ADD seen_at DATETIME(3) NULL, MODIFY password_hash VARCHAR(255) NULL`,
  // Links that are used once: an invitation, or a way back for whoever forgot the password. Only the hash is kept.
  `CREATE TABLE account_links (
    hash BINARY(32) PRIMARY KEY, account_id ${id} NOT NULL, kind ENUM('invitation','reset') NOT NULL, expires_at DATETIME(3) NOT NULL, created_by VARCHAR(120) NOT NULL,
    INDEX (account_id), INDEX (expires_at), FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE)`,
  // The stand-in for a mail service keeps what it was given to send.
  `CREATE TABLE kept_mails (
    seq BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY, recipient VARCHAR(254) NOT NULL, subject VARCHAR(300) NOT NULL, body TEXT NOT NULL, at DATETIME(3) NOT NULL, INDEX (at))`,
  // Whether what its made-up readers did was counted like what visitors do. Until now it always was.
  `ALTER TABLE letters ADD counted TINYINT NOT NULL DEFAULT 0`,
  `UPDATE letters SET counted = 1`,
  // Who did what to what: rows are only ever added, and pruned when they are old.
  `CREATE TABLE audit_trail (
    seq BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY, at DATETIME(3) NOT NULL, account_id ${id} NULL, person VARCHAR(120) NOT NULL, address VARCHAR(60) NOT NULL,
    action VARCHAR(60) NOT NULL, outcome ENUM('done','refused') NOT NULL, thing_kind VARCHAR(40) NOT NULL, thing VARCHAR(200) NOT NULL,
    detail VARCHAR(500) NOT NULL, INDEX (at), INDEX (account_id, at), INDEX (thing, at))`,
  `CREATE TRIGGER audit_trail_stays BEFORE UPDATE ON audit_trail FOR EACH ROW SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the audit trail is only added to'`,
  `CREATE TRIGGER audit_trail_is_kept BEFORE DELETE ON audit_trail FOR EACH ROW
    IF OLD.at > UTC_TIMESTAMP() - INTERVAL 30 DAY THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the audit trail keeps its last 30 days'; END IF`,
]

export async function up(db: Knex): Promise<void> {
  for (const step of steps) await db.raw(step)
  await db('settings')
    .insert({
      name: 'letterKey',
      value: JSON.stringify({ key: randomBytes(32).toString('hex') }),
      updated_at: new Date(),
      updated_by: 'the first start',
    })
    .onConflict('name')
    .ignore()
  await approveWhatIsThere(db)
}

const node = z.looseObject({ type: z.string(), props: z.looseObject({ code: z.unknown().optional() }) })

/** Until now only administrators could put a script component into a document or a version. */
async function approveWhatIsThere(db: Knex): Promise<void> {
  const digests = new Set<string>()
  const take = (value: unknown): void => {
    if (typeof value !== 'object' || value === null) return
    const found = node.safeParse(value)
    if (found.success && found.data.type === 'script' && typeof found.data.props.code === 'string')
      digests.add(createHash('sha256').update(found.data.props.code).digest('base64'))
    Object.values(value).forEach(take)
  }
  for (const [table, column] of [
    ['documents', 'draft'],
    ['revisions', 'body'],
    ['versions', 'edits'],
  ] as const) {
    const rows: Record<string, unknown>[] = await db(table).where(column, 'like', '%"script"%').select(column)
    for (const row of rows) take(typeof row[column] === 'string' ? JSON.parse(row[column]) : row[column])
  }
  if (digests.size === 0) return
  await db('approved_scripts')
    .insert([...digests].map((digest) => ({ digest, approved_at: new Date(), approved_by: 'what was there before' })))
    .onConflict('digest')
    .ignore()
}
