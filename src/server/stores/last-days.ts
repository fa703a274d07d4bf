import type { Knex } from 'knex'
import * as z from 'zod'
import { documentIdSchema, type DocumentId } from '@/core/ids'
import type { Day } from '@/core/time'
import { readCalendar } from './settings'

/** As many days as every list and sheet looks back on, today the last of them. */
export const LOOKED_BACK = 28

export async function lastDays(db: Knex): Promise<readonly Day[]> {
  return (await readCalendar(db)).lastDays(LOOKED_BACK, new Date())
}

/** The first of them. */
export async function firstDay(db: Knex): Promise<Day> {
  return (await lastDays(db))[0] ?? ''
}

const pageRow = z.object({ id: documentIdSchema })

/** The pages to which somebody came in these days, and those that are on the site only since; `null` where nobody came at all. */
export async function walkedLately(db: Knex): Promise<DocumentId[] | null> {
  const first = await firstDay(db)
  const came: unknown[] = await db('documents as d')
    .where('d.kind', 'page')
    .whereExists(db('daily as t').whereRaw('t.subject = d.id').where('t.day', '>=', first).select(db.raw('1')))
    .select('d.id')
  if (came.length === 0) return null
  const fresh: unknown[] = await db('revisions as r')
    .join('documents as d', 'd.id', 'r.document_id')
    .where({ 'r.number': 1, 'd.kind': 'page' })
    .where('r.at', '>=', first)
    .select('d.id')
  return [...new Set([...came, ...fresh].map((row) => pageRow.parse(row).id))].sort()
}
