import type { Knex } from 'knex'

const statements = [
  // Conditions with a name, for rules and tests to share.
  `CREATE TABLE segments (
    id VARCHAR(40) PRIMARY KEY, name VARCHAR(80) NOT NULL, \`condition\` JSON NOT NULL, lock_version INT NOT NULL DEFAULT 1,
    updated_at DATETIME(3) NOT NULL, updated_by VARCHAR(120) NOT NULL, UNIQUE (name))`,
]

export async function up(db: Knex): Promise<void> {
  for (const statement of statements) await db.raw(statement)
}
