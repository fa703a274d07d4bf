import type { Knex } from 'knex'

const address = 'VARCHAR(400) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin'

/** Addresses of any script, told apart by every letter: “/About” and “/about” are two. */
export async function up(db: Knex): Promise<void> {
  await db.raw(`ALTER TABLE documents MODIFY path ${address} NULL, MODIFY published_path ${address} NULL`)
  await db.raw(`ALTER TABLE redirects MODIFY path ${address} NOT NULL`)
}
