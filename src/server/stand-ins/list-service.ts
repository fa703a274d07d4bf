import type { Knex } from 'knex'
import * as z from 'zod'
import { moods } from '@/contract/contract'
import { jsonColumn } from '../database/json-column'

/** What stands behind the site's forms: a list of addresses, an office's inbox. */
export interface ListService {
  /** @returns whether it took the entry. @throws where it cannot be reached: the entry is kept and sent again. */
  take(entry: Readonly<Record<string, string>>): Promise<{ readonly accepted: boolean; readonly message: string }>
}

export type Mood = (typeof moods)[number]

const SLOWLY = 2500

/** Stands in for a real service: does as it is told in the settings. */
export function standInListService(mood: Mood): ListService {
  return {
    async take() {
      if (mood === 'down') throw new Error('The service does not answer.')
      if (mood === 'slow') await new Promise((done) => setTimeout(done, SLOWLY))
      return mood === 'refuses' ? { accepted: false, message: 'The service refused it.' } : { accepted: true, message: '' }
    },
  }
}

const moodSchema = z.object({ mood: z.enum(moods).default('accepts') })

export async function readMood(db: Knex): Promise<Mood> {
  const row: unknown = await db('settings').where({ name: 'listService' }).first('value')
  return row === undefined ? 'accepts' : z.object({ value: jsonColumn(moodSchema) }).parse(row).value.mood
}

export async function writeMood(trx: Knex, mood: Mood, author: string): Promise<void> {
  await trx('settings')
    .insert({ name: 'listService', value: JSON.stringify({ mood }), updated_at: new Date(), updated_by: author })
    .onConflict('name')
    .merge()
}
