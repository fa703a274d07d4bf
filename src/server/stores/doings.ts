import type { Knex } from 'knex'
import * as z from 'zod'
import type { DoingRow } from '@/core/experiment'
import { documentIdSchema, versionIdSchema, type DocumentId, type RoundId, type VersionId } from '@/core/ids'
import { doings, type Doing } from '@/core/ledger'

const rowSchema = z.object({
  version: versionIdSchema,
  document: documentIdSchema.or(z.literal('').transform((none) => none as DocumentId)),
  doing: z.enum(doings),
  what: z.string(),
  times: z.number(),
  visitors: z.number(),
})

/** Whatever a page has to press, it is fewer than this. */
const MOST_ROWS = 20_000

/** What was done by those who took part in a round, by version; of these kinds, and on one page alone where one is named. */
export async function doingsOf(
  db: Knex,
  crowd: number,
  round: RoundId,
  of: readonly Doing[],
  on?: { readonly version: VersionId; readonly document: DocumentId },
): Promise<DoingRow[]> {
  const rows: unknown[] = await db('doings')
    .where({ crowd, round_id: round })
    .whereIn('doing', of)
    .where((query) => {
      if (on !== undefined) void query.where({ version: on.version, document_id: on.document })
    })
    .where('times', '>', 0)
    .orderBy('times', 'desc')
    .limit(MOST_ROWS)
    .select('version', 'document_id as document', 'doing', 'what', 'times', 'visitors')
  return rows.map((row) => rowSchema.parse(row))
}
