const ofExposed = [
  'exposed',
  'converters',
  'conversions',
  'worth',
  /** Of each visitor the square of what they brought. */
  'worthSquared',
  /** Visits from the first exposure on, that one included, within the goal’s days; the sum of their squares. */
  'visits',
  'visitsSquared',
  /** Of each visitor their visits times what they brought. */
  'visitsWorth',
] as const

/*
 * What is counted, by book: a row is known by its key, and holds sums. Whoever reads a result reads rows alone, so that
 * its cost does not grow with traffic.
 */
export const books = {
  /**
   * A test’s round, by the epoch in which visitors were drawn (from one: a stretch of constant weights), goal ('' for those
   * who came), version and day.
   */
  tests: { key: ['round', 'epoch', 'goal', 'version', 'day'], sums: ['assigned', ...ofExposed] },
  /** The same of those exposed, by one trait at a time. Whose trait is not known is in none of its rows. */
  segments: { key: ['round', 'epoch', 'goal', 'version', 'day', 'trait', 'value'], sums: ofExposed },
  /** The site’s own figures, by subject (`subjects`) and day. */
  site: { key: ['subject', 'day'], sums: ['times', 'visitors', 'worth'] },
  /** Calls to action, by the day and the page on which they stood; in a newsletter the call stands for the page. */
  calls: { key: ['call', 'day', 'document', 'channel'], sums: ['views', 'clicks', 'submissions', 'worth'] },
} as const

export type BookName = keyof typeof books
export type KeyOf<Name extends BookName> = (typeof books)[Name]['key'][number]
export type SumOf<Name extends BookName> = (typeof books)[Name]['sums'][number]

export interface Row {
  readonly book: BookName
  /** In the order of the book’s key. */
  readonly key: readonly string[]
  /** In the order of the book’s sums. */
  readonly sums: number[]
}

/** Rows that are being added up. */
export class Sums {
  readonly #rows = new Map<string, Row>()

  add<Name extends BookName>(
    book: Name,
    key: { readonly [Part in KeyOf<Name>]: string },
    by: { readonly [Sum in SumOf<Name>]?: number },
  ): void {
    const parts = books[book].key.map((part) => (key as Record<string, string>)[part] ?? '')
    const { sums } = this.#row(book, parts)
    const names: readonly string[] = books[book].sums
    for (const name in by) {
      const index = names.indexOf(name)
      sums[index] = (sums[index] ?? 0) + ((by as Record<string, number | undefined>)[name] ?? 0)
    }
  }

  /** Takes other rows in, or away with −1. */
  merge(other: Sums, times: 1 | -1 = 1): this {
    for (const { book, key, sums } of other.#rows.values()) {
      const row = this.#row(book, key)
      sums.forEach((sum, index) => {
        row.sums[index] = (row.sums[index] ?? 0) + times * sum
      })
    }
    return this
  }

  /** What is not nothing. Worth has cents, and what is left of a difference of cents is none. */
  rows(): Row[] {
    return [...this.#rows.values()].filter(({ sums }) => sums.some((sum) => Math.abs(sum) > 1e-9))
  }

  #row(book: BookName, key: readonly string[]): Row {
    const name = `${book}\n${key.join('\n')}`
    const row = this.#rows.get(name) ?? { book, key, sums: books[book].sums.map(() => 0) }
    this.#rows.set(name, row)
    return row
  }
}
