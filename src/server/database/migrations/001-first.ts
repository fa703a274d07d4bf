import type { Knex } from 'knex'

/* Ids that editors' work is known by are short text; what grows with traffic is keyed by numbers and 16 bytes. */
const id = 'VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin'

const tables = [
  `CREATE TABLE accounts (
    id ${id} PRIMARY KEY, email VARCHAR(254) NOT NULL UNIQUE, name VARCHAR(120) NOT NULL,
    role ENUM('editor','publisher') NOT NULL, password_hash VARCHAR(255) NOT NULL, one_time TINYINT NOT NULL DEFAULT 0, created_at DATETIME(3) NOT NULL)`,
  `CREATE TABLE sessions (
    token_hash BINARY(32) PRIMARY KEY, account_id ${id} NOT NULL, created_at DATETIME(3) NOT NULL, rotated_at DATETIME(3) NOT NULL, expires_at DATETIME(3) NOT NULL,
    INDEX (account_id), INDEX (expires_at), FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE)`,
  `CREATE TABLE sign_in_failures (
    seq BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY, subject VARBINARY(200) NOT NULL, at DATETIME(3) NOT NULL, INDEX (subject, at), INDEX (at))`,
  `CREATE TABLE documents (
    id ${id} PRIMARY KEY, kind ENUM('page','menu','callToAction') NOT NULL, title VARCHAR(300) NOT NULL, path VARCHAR(300) NULL UNIQUE,
    draft JSON NOT NULL, lock_version INT UNSIGNED NOT NULL DEFAULT 0, published_revision INT UNSIGNED NULL, published_lock INT UNSIGNED NULL,
    position INT UNSIGNED NOT NULL DEFAULT 0, updated_at DATETIME(3) NOT NULL, updated_by VARCHAR(120) NOT NULL,
    INDEX (kind, position), INDEX (updated_at))`,
  `CREATE TABLE draft_steps (
    document_id ${id} NOT NULL, lock_version INT UNSIGNED NOT NULL, edits JSON NOT NULL, author VARCHAR(120) NOT NULL, at DATETIME(3) NOT NULL,
    PRIMARY KEY (document_id, lock_version), FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE)`,
  `CREATE TABLE revisions (
    document_id ${id} NOT NULL, number INT UNSIGNED NOT NULL, body JSON NOT NULL, note VARCHAR(300) NOT NULL, author VARCHAR(120) NOT NULL, at DATETIME(3) NOT NULL,
    PRIMARY KEY (document_id, number), FOREIGN KEY (document_id) REFERENCES documents (id) ON DELETE CASCADE)`,
  `CREATE TABLE tests (
    number INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, document_id ${id} NOT NULL, status ENUM('draft','running','paused','ended','settled') NOT NULL,
    name VARCHAR(120) NOT NULL, design JSON NOT NULL, decision JSON NULL, lock_version INT UNSIGNED NOT NULL DEFAULT 0,
    created_at DATETIME(3) NOT NULL, created_by VARCHAR(120) NOT NULL, started_at DATETIME(3) NULL, settled_at DATETIME(3) NULL,
    INDEX (status, number), INDEX (document_id, status), INDEX (settled_at), FOREIGN KEY (document_id) REFERENCES documents (id))`,
  `CREATE TABLE versions (
    id ${id} PRIMARY KEY, document_id ${id} NOT NULL, node_id ${id} NOT NULL, manner ENUM('chance','rule') NOT NULL, test_number INT UNSIGNED NULL,
    name VARCHAR(80) NOT NULL, edits JSON NOT NULL, \`condition\` JSON NULL, position INT UNSIGNED NOT NULL, settled TINYINT NOT NULL DEFAULT 0,
    lock_version INT UNSIGNED NOT NULL DEFAULT 0, updated_at DATETIME(3) NOT NULL, updated_by VARCHAR(120) NOT NULL,
    INDEX (document_id, settled, node_id, position), INDEX (test_number),
    FOREIGN KEY (document_id) REFERENCES documents (id), FOREIGN KEY (test_number) REFERENCES tests (number) ON DELETE SET NULL)`,
  `CREATE TABLE personalizations (
    id VARCHAR(90) CHARACTER SET ascii COLLATE ascii_bin PRIMARY KEY, document_id ${id} NOT NULL, published JSON NOT NULL, published_at DATETIME(3) NOT NULL, published_by VARCHAR(120) NOT NULL,
    INDEX (document_id), FOREIGN KEY (document_id) REFERENCES documents (id))`,
  `CREATE TABLE goals (
    id ${id} PRIMARY KEY, name VARCHAR(120) NOT NULL, body JSON NOT NULL, created_at DATETIME(3) NOT NULL, INDEX (name))`,
  `CREATE TABLE rounds (
    id ${id} PRIMARY KEY, test_number INT UNSIGNED NOT NULL, number INT UNSIGNED NOT NULL, snapshot JSON NOT NULL, started_at DATETIME(3) NOT NULL, ended_at DATETIME(3) NULL,
    UNIQUE (test_number, number), INDEX (ended_at), FOREIGN KEY (test_number) REFERENCES tests (number))`,
  `CREATE TABLE pictures (
    test_number INT UNSIGNED NOT NULL, which ENUM('original','chosen') NOT NULL, html MEDIUMTEXT NOT NULL,
    PRIMARY KEY (test_number, which), FOREIGN KEY (test_number) REFERENCES tests (number) ON DELETE CASCADE)`,
  `CREATE TABLE releases (
    number INT UNSIGNED PRIMARY KEY, body JSON NOT NULL, reason VARCHAR(300) NOT NULL, author VARCHAR(120) NOT NULL, at DATETIME(3) NOT NULL)`,
  `CREATE TABLE rehearsals (
    id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, test_number INT UNSIGNED NOT NULL, round_id ${id} NOT NULL, plan JSON NOT NULL,
    status ENUM('waiting','running','done','cancelled','failed') NOT NULL, sent INT UNSIGNED NOT NULL DEFAULT 0, message VARCHAR(300) NOT NULL DEFAULT '',
    created_at DATETIME(3) NOT NULL, created_by VARCHAR(120) NOT NULL, INDEX (status, id), INDEX (test_number, id),
    FOREIGN KEY (test_number) REFERENCES tests (number), FOREIGN KEY (round_id) REFERENCES rounds (id))`,
  // source: 0 is live, else the number of a rehearsal. It is part of every key below, so the two never share a row.
  `CREATE TABLE events (
    seq BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY, source INT UNSIGNED NOT NULL, id BINARY(16) NOT NULL, visitor BINARY(16) NOT NULL, at DATETIME(3) NOT NULL,
    kind ENUM('assigned','seen','page','click') NOT NULL, document_id ${id} NULL, round_id ${id} NULL, version ${id} NULL, nodes VARCHAR(500) CHARACTER SET ascii NULL,
    tallied TINYINT NOT NULL DEFAULT 0, UNIQUE (source, id), INDEX (tallied, seq), INDEX (at))`,
  `CREATE TABLE enrolments (
    source INT UNSIGNED NOT NULL, round_id ${id} NOT NULL, visitor BINARY(16) NOT NULL, version ${id} NOT NULL, assigned_at DATETIME(3) NOT NULL, exposed_at DATETIME(3) NULL,
    PRIMARY KEY (source, visitor, round_id), INDEX (round_id, source))`,
  `CREATE TABLE conversions (
    source INT UNSIGNED NOT NULL, round_id ${id} NOT NULL, visitor BINARY(16) NOT NULL, goal_id ${id} NOT NULL, times INT UNSIGNED NOT NULL, worth DOUBLE NOT NULL, first_at DATETIME(3) NOT NULL,
    PRIMARY KEY (source, visitor, round_id, goal_id))`,
  // goal_id '' is the row of those who came: assigned and exposed. The others count converters.
  `CREATE TABLE tallies (
    source INT UNSIGNED NOT NULL, round_id ${id} NOT NULL, goal_id ${id} NOT NULL, version ${id} NOT NULL, day DATE NOT NULL,
    assigned INT UNSIGNED NOT NULL, exposed INT UNSIGNED NOT NULL, converters INT UNSIGNED NOT NULL, conversions INT UNSIGNED NOT NULL, worth DOUBLE NOT NULL, worth_squared DOUBLE NOT NULL,
    PRIMARY KEY (source, round_id, goal_id, version, day))`,
  // The site's own statistics: subject is a page's or a goal's id.
  `CREATE TABLE firsts (subject VARCHAR(42) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, visitor BINARY(16) NOT NULL, day DATE NOT NULL, PRIMARY KEY (subject, visitor), INDEX (day))`,
  `CREATE TABLE daily (
    subject VARCHAR(42) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, day DATE NOT NULL, times INT UNSIGNED NOT NULL, visitors INT UNSIGNED NOT NULL, PRIMARY KEY (subject, day))`,
  `CREATE TABLE form_entries (
    seq BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY, document_id ${id} NOT NULL, node_id ${id} NOT NULL, entry JSON NOT NULL, at DATETIME(3) NOT NULL, INDEX (document_id, node_id, at))`,
  `CREATE TABLE heartbeats (role VARCHAR(20) PRIMARY KEY, at DATETIME(3) NOT NULL)`,
]

export async function up(db: Knex): Promise<void> {
  for (const table of tables) await db.raw(table)
}
