import type { Knex } from 'knex'
import * as z from 'zod'
import type { DocumentId, GoalId, TestId } from '@/core/ids'
import { testNumber } from './tests'

/** Something that has a screen of its own. */
export type Named =
  | { readonly kind: 'document'; readonly id: DocumentId }
  | { readonly kind: 'test'; readonly id: TestId }
  | { readonly kind: 'goal'; readonly id: GoalId }

/** What it is called; empty where there is no such thing. */
export async function nameOf(db: Knex, { kind, id }: Named): Promise<string> {
  const row: unknown = await (kind === 'document'
    ? db('documents').where({ id }).first({ name: 'title' })
    : kind === 'goal'
      ? db('goals').where({ id }).first('name')
      : db('tests')
          .where({ number: testNumber(id) })
          .first('name'))
  return z.object({ name: z.string() }).safeParse(row).data?.name ?? ''
}
