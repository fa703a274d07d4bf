import type { Knex } from 'knex'

/** Whoever forgets a visitor finds all that is known of them by an index. */
export async function up(db: Knex): Promise<void> {
  await db.raw('ALTER TABLE firsts ADD INDEX visitor (visitor)')
  await db.raw('ALTER TABLE letter_sends ADD INDEX recipient (recipient)')
  await db.raw('ALTER TABLE reader_steps ADD INDEX recipient (recipient)')
  await db.raw('ALTER TABLE form_entries ADD INDEX at (at)')
}
