import type { Knex } from 'knex'

const ascii = 'CHARACTER SET ascii COLLATE ascii_bin'
const kinds = [
  'assigned',
  'seen',
  'page',
  'click',
  'call',
  'form',
  'outbound',
  'read',
  'stay',
  'order',
  'event',
  'letter',
  'speed',
]

const statements = [
  `ALTER TABLE events MODIFY kind ENUM(${kinds.map((kind) => `'${kind}'`).join(',')}) NOT NULL`,
  // What those do who take part, whether a goal asks for it or not; and what of it comes from events that are gone.
  ...['doings', 'doings_kept'].map(
    (table) => `CREATE TABLE ${table} (
      source INT UNSIGNED NOT NULL, round_id VARCHAR(40) ${ascii} NOT NULL, version VARCHAR(40) ${ascii} NOT NULL, document_id VARCHAR(40) ${ascii} NOT NULL,
      doing VARCHAR(12) ${ascii} NOT NULL, what VARCHAR(60) ${ascii} NOT NULL, times INT NOT NULL DEFAULT 0, visitors INT NOT NULL DEFAULT 0,
      PRIMARY KEY (source, round_id, version, document_id, doing, what))`,
  ),
  // Visitors by what they have brought, in classes.
  ...['worth_classes', 'worth_classes_kept'].map(
    (table) => `CREATE TABLE ${table} (
      source INT UNSIGNED NOT NULL, round_id VARCHAR(40) ${ascii} NOT NULL, epoch SMALLINT UNSIGNED NOT NULL, goal_id VARCHAR(60) ${ascii} NOT NULL,
      version VARCHAR(40) ${ascii} NOT NULL, class SMALLINT NOT NULL, visitors INT NOT NULL DEFAULT 0, worth DOUBLE NOT NULL DEFAULT 0,
      worth_squared DOUBLE NOT NULL DEFAULT 0, visits INT NOT NULL DEFAULT 0, visits_worth DOUBLE NOT NULL DEFAULT 0,
      PRIMARY KEY (source, round_id, epoch, goal_id, version, class))`,
  ),
]

export async function up(db: Knex): Promise<void> {
  for (const statement of statements) await db.raw(statement)
}
