import type { Knex } from 'knex'

const counts = (names: readonly string[]) => names.map((name) => `MODIFY ${name} INT NOT NULL`).join(', ')

const steps = [
  // All that counting remembers of a visitor. `last_at` and `last_seq` are of the last event in it; `base` is the visitor as of
  // `base_at`, before which no events are kept.
  `CREATE TABLE ledger_visitors (
    source INT UNSIGNED NOT NULL, visitor BINARY(16) NOT NULL, state MEDIUMTEXT NOT NULL, last_at DATETIME(3) NOT NULL, last_seq BIGINT UNSIGNED NOT NULL,
    base MEDIUMTEXT NULL, base_at DATETIME(3) NULL, PRIMARY KEY (source, visitor), INDEX (last_at))`,
  // What holds for the whole site from a moment on: its clock, and the goals that count.
  `CREATE TABLE counting_rules (number INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, id CHAR(36) NOT NULL DEFAULT UUID(), since DATETIME(3) NOT NULL, body MEDIUMTEXT NOT NULL)`,
  // Refunds that came before the order that they name, of somebody who was not said.
  `CREATE TABLE waiting_refunds (number VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, seq BIGINT UNSIGNED NOT NULL, PRIMARY KEY (number, seq))`,
  // Who does what of the jobs: until when, and the how-manieth to have it.
  `CREATE TABLE leases (name VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin PRIMARY KEY, owner VARCHAR(80) NOT NULL DEFAULT '', expires_at DATETIME(3) NOT NULL, fence BIGINT UNSIGNED NOT NULL DEFAULT 0)`,
  `INSERT INTO leases (name, expires_at) SELECT 'lead', '1970-01-01' UNION ALL SELECT 'anew', '1970-01-01' UNION ALL SELECT CONCAT('shard-', LPAD(seq, 2, '0')), '1970-01-01' FROM seq_0_to_63`,
  `CREATE TABLE job_processes (name VARCHAR(80) PRIMARY KEY, at DATETIME(3) NOT NULL)`,
  `DROP TABLE heartbeats`,
  // When a round was held up, oldest first: nothing counts meanwhile.
  `ALTER TABLE rounds ADD pauses JSON NOT NULL DEFAULT '[]'`,
  `UPDATE rounds AS r JOIN tests AS t ON t.number = r.test_number SET r.pauses = JSON_ARRAY(JSON_OBJECT('from', DATE_FORMAT(UTC_TIMESTAMP(), '%Y-%m-%dT%TZ'), 'to', NULL))
    WHERE t.status = 'paused' AND r.ended_at IS NULL`,
  // A visitor’s events in their order, for counting anew.
  `ALTER TABLE events ADD INDEX visitor_events (source, visitor, at, seq)`,
  `ALTER TABLE form_entries ADD INDEX (visitor)`,
  `ALTER TABLE orders ADD INDEX (visitor)`,
  // What a visitor adds can change, and then one row lessens.
  // A step of a funnel has a longer name than its goal.
  `ALTER TABLE tallies MODIFY goal_id VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, ${counts(['assigned', 'exposed', 'converters', 'conversions'])}, DROP visits_worth,
    ADD visits INT NOT NULL DEFAULT 0, ADD visits_squared INT NOT NULL DEFAULT 0, ADD visits_worth DOUBLE NOT NULL DEFAULT 0`,
  `ALTER TABLE daily ${counts(['times', 'visitors'])}`,
  `ALTER TABLE call_daily ${counts(['views', 'clicks', 'submissions'])}`,
  `ALTER TABLE firsts DROP INDEX day, ADD INDEX subject_day (subject, day)`,
  // A stretch of a round with constant weights; the rounds say when theirs were changed.
  `ALTER TABLE rounds ADD reweighed JSON NOT NULL DEFAULT '[]'`,
  `ALTER TABLE tallies ADD epoch SMALLINT UNSIGNED NOT NULL DEFAULT 1 AFTER round_id, DROP PRIMARY KEY, ADD PRIMARY KEY (source, round_id, epoch, goal_id, version, day)`,
  // Of those exposed, by one thing at a time that is known of them.
  `CREATE TABLE segment_tallies LIKE tallies`,
  `ALTER TABLE segment_tallies DROP assigned, ADD trait VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL AFTER day, ADD trait_value VARCHAR(80) COLLATE utf8mb4_bin NOT NULL AFTER trait,
    DROP PRIMARY KEY, ADD PRIMARY KEY (source, round_id, epoch, goal_id, version, day, trait, trait_value)`,
  // What of the rows comes from events that are no longer kept.
  ...['tallies', 'segment_tallies', 'daily', 'call_daily'].map((table) => `CREATE TABLE ${table}_kept LIKE ${table}`),
  // Goals and campaigns that were thrown away, and can be brought back.
  ...['goals', 'campaigns'].map(
    (table) => `ALTER TABLE ${table} ADD binned_at DATETIME(3) NULL, ADD binned_by VARCHAR(120) NULL`,
  ),
  // All is counted anew, by the time at which it happened.
  ...['enrolments', 'conversions', 'visits', 'call_presses', 'call_credits'].map((table) => `DROP TABLE ${table}`),
  ...['tallies', 'daily', 'call_daily', 'firsts', 'letter_counts'].map((table) => `DELETE FROM ${table}`),
  `UPDATE orders SET value = 0, refunded = 0, call_id = NULL, channel = NULL, letter = NULL`,
  `UPDATE letter_sends SET opened_at = NULL, followed_at = NULL`,
  `UPDATE events SET tallied = 0 WHERE tallied = 1`,
]

export async function up(db: Knex): Promise<void> {
  for (const step of steps) await db.raw(step)
}
