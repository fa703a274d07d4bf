import type { Knex } from 'knex'

const statements = [
  // Visitors as whom the site is looked at.
  `CREATE TABLE lens_visitors (
    id VARCHAR(40) PRIMARY KEY, name VARCHAR(80) NOT NULL UNIQUE, visitor JSON NOT NULL, made_at DATETIME(3) NOT NULL, made_by VARCHAR(120) NOT NULL)`,
]

export async function up(db: Knex): Promise<void> {
  for (const statement of statements) await db.raw(statement)
}
