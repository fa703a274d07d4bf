import type { Knex } from 'knex'
import * as z from 'zod'
import { madeUpSchema, type MadeUp } from '@/core/lens'
import { jsonColumn } from '../database/json-column'
import { Failure, missing } from '../failure'
import { newId } from '../new-id'

/** More nobody looks through. */
const MOST = 40

const rowSchema = z.object({
  id: z.string(),
  name: z.string(),
  visitor: jsonColumn(madeUpSchema),
  made_at: z.date(),
  made_by: z.string(),
})
export type LensVisitorRow = z.infer<typeof rowSchema>

export async function listLensVisitors(db: Knex): Promise<LensVisitorRow[]> {
  const rows: unknown[] = await db('lens_visitors').orderBy('name').limit(MOST)
  return rows.map((row) => rowSchema.parse(row))
}

/** Under a name that there is already, it takes the other’s place. */
export async function saveLensVisitor(trx: Knex.Transaction, name: string, visitor: MadeUp, by: string): Promise<string> {
  const known = (await listLensVisitors(trx)).find((one) => one.name.toLowerCase() === name.toLowerCase())
  const { total } = z.object({ total: z.coerce.number() }).parse(await trx('lens_visitors').count({ total: '*' }).first())
  if (known === undefined && total >= MOST)
    throw new Failure('input', `${MOST} visitors are saved already, more than anybody looks through. Remove one first.`)
  const id = known?.id ?? newId()
  await trx('lens_visitors')
    .insert({ id, name, visitor: JSON.stringify(visitor), made_at: new Date(), made_by: by })
    .onConflict('id')
    .merge()
  return id
}

export async function removeLensVisitor(trx: Knex.Transaction, id: string): Promise<void> {
  if ((await trx('lens_visitors').where({ id }).delete()) === 0) throw missing('This visitor')
}
