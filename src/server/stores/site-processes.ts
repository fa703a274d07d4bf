import type { Knex } from 'knex'
import * as z from 'zod'
import type { ReleaseFault } from '@/core/release'
import { jsonColumn } from '../database/json-column'

/** What one site process serves, by its own word. */
export interface Served {
  readonly name: string
  readonly release: number
  /** What of it could not be made; it stays as it was. */
  readonly faults: readonly ReleaseFault[]
  readonly at: Date
}

export async function sayServed(db: Knex, { name, release, faults, at }: Served): Promise<void> {
  await db('site_processes')
    .insert({ name: name.slice(0, 200), release_number: release, faults: JSON.stringify(faults.slice(0, 200)), at })
    .onConflict('name')
    .merge()
}

const row = z.object({
  name: z.string(),
  release_number: z.number(),
  faults: jsonColumn(z.array(z.object({ id: z.string(), words: z.string() }))),
  at: z.date(),
})
/** A process that has said nothing for so long is gone. */
const SILENCE = 15_000

/** The site processes that are there now. */
export async function servedNow(db: Knex): Promise<Served[]> {
  const rows: unknown[] = await db('site_processes')
    .where('at', '>', new Date(Date.now() - SILENCE))
    .orderBy('name')
    .limit(100)
  return rows.map((one) => row.parse(one)).map(({ release_number: release, ...rest }) => ({ ...rest, release }))
}

/** Takes away what processes said that have been gone for a day. */
export async function forgetProcesses(db: Knex): Promise<void> {
  await db('site_processes')
    .where('at', '<', new Date(Date.now() - 86_400_000))
    .delete()
}
