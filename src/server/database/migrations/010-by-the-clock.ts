import type { Knex } from 'knex'

const statements = [
  `ALTER TABLE tests MODIFY status ENUM('draft','scheduled','running','paused','ended','settled') NOT NULL`,
  // What happened to it last without anybody pressing anything; decisions of earlier runs; when its split was last worked out.
  `ALTER TABLE tests ADD news JSON NULL, ADD earlier JSON NOT NULL DEFAULT '[]', ADD adapted_at DATETIME(3) NULL`,
]

export async function up(db: Knex): Promise<void> {
  for (const statement of statements) await db.raw(statement)
}
