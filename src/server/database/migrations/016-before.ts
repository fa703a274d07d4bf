import type { Knex } from 'knex'

const ascii = 'CHARACTER SET ascii COLLATE ascii_bin'
const of = `crowd INT UNSIGNED NOT NULL, round_id VARCHAR(40) ${ascii} NOT NULL, epoch SMALLINT UNSIGNED NOT NULL`
const sums = 'exposed INT NOT NULL DEFAULT 0, converters INT NOT NULL DEFAULT 0'

const statements = [
  // Those who saw a version by what they had done before, and by what other tests showed them; with what of it comes from
  // events that are gone. Counted from now on: a recount fills in what there are still events of.
  ...['earlier_tallies', 'earlier_tallies_kept'].map(
    (table) => `CREATE TABLE ${table} (
      ${of}, goal_id VARCHAR(60) ${ascii} NOT NULL, version VARCHAR(40) ${ascii} NOT NULL, past VARCHAR(12) ${ascii} NOT NULL, ${sums},
      PRIMARY KEY (crowd, round_id, epoch, goal_id, version, past))`,
  ),
  ...['beside_tallies', 'beside_tallies_kept'].map(
    (table) => `CREATE TABLE ${table} (
      ${of}, version VARCHAR(40) ${ascii} NOT NULL, other_round VARCHAR(40) ${ascii} NOT NULL, other_version VARCHAR(40) ${ascii} NOT NULL, ${sums},
      PRIMARY KEY (crowd, round_id, epoch, version, other_round, other_version))`,
  ),
]

export async function up(db: Knex): Promise<void> {
  for (const statement of statements) await db.raw(statement)
}
