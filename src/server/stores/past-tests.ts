import type { Knex } from 'knex'
import * as z from 'zod'
import type { PastTest } from '@/core/experiment'
import type { TestId } from '@/core/ids'
import { jsonColumn } from '../database/json-column'
import { decisionSchema, testId } from './tests'

/** Compared are the last ones: what worked for other visitors of another site long ago says little. */
const MOST_PAST = 1000

const pastRow = z.object({
  number: z.number(),
  name: z.string(),
  kind: decisionSchema.shape.kind,
  reading: decisionSchema.shape.reading,
  undone: z.coerce.number(),
  tested: z.string(),
  arms: jsonColumn(decisionSchema.shape.arms),
})

/** Settled tests of which it is written down what was tested, by what each version had when it was decided. */
export async function pastTests(db: Knex): Promise<(PastTest & { readonly test: TestId; readonly name: string })[]> {
  const rows: unknown[] = await db('tests')
    .whereNotNull('decision')
    .whereRaw("JSON_VALUE(decision, '$.tested') <> ''")
    .orderBy('settled_at', 'desc')
    .limit(MOST_PAST)
    .select('number', 'name')
    .select(
      ...['kind', 'reading', 'undone', 'tested'].map((part) => db.raw('JSON_VALUE(decision, ?) AS ??', [`$.${part}`, part])),
      db.raw("JSON_EXTRACT(decision, '$.arms') AS arms"),
    )
  return rows.map((raw) => {
    const { number, name, kind, reading, undone, tested, arms } = pastRow.parse(raw)
    const paid = kind === 'take' && reading === 'better' && undone === 0
    return { test: testId(number), name, kind: tested, arms, paid }
  })
}

/** All tags that any test has, by their names. */
export async function tagsUsed(db: Knex): Promise<string[]> {
  const rows: unknown[] = await db('tests').whereRaw('JSON_LENGTH(tags) > 0').distinct('tags')
  const schema = z.object({ tags: jsonColumn(z.array(z.string())) })
  return [...new Set(rows.flatMap((row) => schema.parse(row).tags))].sort((one, other) => one.localeCompare(other, 'en'))
}
