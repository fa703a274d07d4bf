import type { Knex } from 'knex'

const steps = [
  // A form may ask different things of different visitors: what its order is worth is said with each entry.
  `ALTER TABLE form_entries ADD order_worth DECIMAL(12,2) NULL`,
  // A save that is sent again, as its answer was lost, is known by its name.
  `ALTER TABLE draft_steps ADD save VARCHAR(40) NULL, ADD UNIQUE INDEX (document_id, save)`,
]

export async function up(db: Knex): Promise<void> {
  for (const step of steps) await db.raw(step)
}
