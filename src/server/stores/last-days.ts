import type { Knex } from 'knex'
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
