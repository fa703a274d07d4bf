import type { Knex } from 'knex'

/** A pattern for LIKE that finds these words anywhere, whatever signs are in them. */
export function contains(words: string): string {
  return `%${words.replace(/[%_\\]/g, '\\$&')}%`
}

/** Narrows to rows that say these words in one of the columns, in whatever case: JSON is compared by its bytes otherwise. */
export function whereSaid(query: Knex.QueryBuilder, columns: readonly string[], words: string): void {
  void query.where((either) => {
    for (const column of columns) void either.orWhereRaw('CONVERT(?? USING utf8mb4) LIKE ?', [column, contains(words)])
  })
}
