import type { Knex } from 'knex'

const statements = [
  `ALTER TABLE tests MODIFY status ENUM('draft','scheduled','running','paused','ended','settled') NOT NULL`,
  // What happened to it last without anybody pressing anything; decisions of earlier runs; when its split was last worked out.
  `ALTER TABLE tests ADD news JSON NULL, ADD earlier JSON NOT NULL DEFAULT '[]', ADD adapted_at DATETIME(3) NULL`,
  // A test as it would be, were it started now: for rehearsing it; no round of the test.
  `ALTER TABLE rounds ADD rehearsed TINYINT NOT NULL DEFAULT 0`,
  // Links by which somebody sees the site with versions of their choice: known by the digest of their key.
  `CREATE TABLE looks (
    digest BINARY(32) PRIMARY KEY, tests JSON NOT NULL, rounds JSON NOT NULL, until DATETIME(3) NOT NULL, made_at DATETIME(3) NOT NULL, made_by VARCHAR(120) NOT NULL,
    INDEX (until))`,
]

export async function up(db: Knex): Promise<void> {
  for (const statement of statements) await db.raw(statement)
}
