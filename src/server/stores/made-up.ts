import type { Knex } from 'knex'
import type { DocumentId, TestId } from '@/core/ids'
import { lettersWhere } from './letters'

/** Which numbers hold made-up people: by the newsletters whose made-up readers counted like visitors. */
export async function madeUp(db: Knex): Promise<{ any: boolean; tests: TestId[]; calls: DocumentId[] }> {
  const letters = await lettersWhere(db, (query) => void query.where({ counted: 1 }))
  const calls = letters.flatMap((letter) => letter.calls)
  return {
    any: letters.length > 0,
    tests: [...new Set(calls.flatMap(({ test }) => test ?? []))],
    calls: [...new Set(calls.map(({ call }) => call))],
  }
}
