import type { Knex } from 'knex'

const steps = [
  // A form may ask different things of different visitors: what its order is worth is said with each entry.
  `ALTER TABLE form_entries ADD order_worth DECIMAL(12,2) NULL`,
  // A save that is sent again, as its answer was lost, is known by its name.
  `ALTER TABLE draft_steps ADD save VARCHAR(40) NULL, ADD UNIQUE INDEX (document_id, save)`,
  // The bin: out of every list, and gone for good after its days where no result needs it.
  `ALTER TABLE documents ADD binned_at DATETIME(3) NULL, ADD binned_by VARCHAR(120) NULL, ADD INDEX (binned_at)`,
  `ALTER TABLE media ADD binned_at DATETIME(3) NULL, ADD binned_by VARCHAR(120) NULL`,
]

export async function up(db: Knex): Promise<void> {
  for (const step of steps) await db.raw(step)
}
