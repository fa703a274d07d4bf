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
  /** Visitors of a round’s version by what they have brought of a goal (`worthClass`), so that a few can be told from the rest. */
  worths: {
    key: ['round', 'epoch', 'goal', 'version', 'class'],
    sums: ['visitors', 'worth', 'worthSquared', 'visits', 'visitsWorth'],
  },
  /** What those do who take part in a round (`doings`), by the page where they first saw their version. */
  doings: { key: ['round', 'version', 'document', 'doing', 'what'], sums: ['times', 'visitors'] },
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

type Places = Map<string, Places | Row>

/** Where each sum stands in its rows. */
const placesIn = (sums: readonly string[]): ReadonlyMap<string, number> => new Map(sums.map((sum, place) => [sum, place]))
const placeOf: Readonly<Record<BookName, ReadonlyMap<string, number>>> = {
  tests: placesIn(books.tests.sums),
  segments: placesIn(books.segments.sums),
  worths: placesIn(books.worths.sums),
  doings: placesIn(books.doings.sums),
  site: placesIn(books.site.sums),
  calls: placesIn(books.calls.sums),
}

/**
 * Rows that are being added up. They are found one part of the key after the other: a name made of all parts would have to
 * be put together for every single thing that is counted.
 */
export class Sums {
  readonly #books = new Map<BookName, Places>()
  readonly #rows: Row[] = []

  add<Name extends BookName>(
    book: Name,
    key: { readonly [Part in KeyOf<Name>]: string },
    by: { readonly [Sum in SumOf<Name>]?: number },
  ): void {
    const named: Readonly<Record<string, string>> = key
    const { sums } = this.#row(book, (part) => named[part] ?? '')
    for (const name in by) {
      const place = placeOf[book].get(name)
      if (place !== undefined) sums[place] = (sums[place] ?? 0) + ((by as Record<string, number | undefined>)[name] ?? 0)
    }
  }

  /** Takes other rows in, or away with −1. */
  merge(other: Sums, times: 1 | -1 = 1): this {
    for (const { book, key, sums } of other.#rows) {
      const row = this.#row(book, (_, place) => key[place] ?? '')
      sums.forEach((sum, place) => {
        row.sums[place] = (row.sums[place] ?? 0) + times * sum
      })
    }
    return this
  }

  /** What is not nothing. Worth has cents, and what is left of a difference of cents is none. */
  rows(): Row[] {
    return this.#rows.filter(({ sums }) => sums.some((sum) => Math.abs(sum) > 1e-9))
  }

  #row(book: BookName, at: (part: string, place: number) => string): Row {
    const parts = books[book].key
    const last = parts.length - 1
    let places: Places = this.#books.get(book) ?? new Map<string, Places | Row>()
    this.#books.set(book, places)
    for (let place = 0; place < last; place++) {
      const name = at(parts[place] ?? '', place)
      const known: Places | Row | undefined = places.get(name)
      const next: Places = known instanceof Map ? known : new Map<string, Places | Row>()
      if (next !== known) places.set(name, next)
      places = next
    }
    const name = at(parts[last] ?? '', last)
    const known = places.get(name)
    if (known !== undefined && !(known instanceof Map)) return known
    const row: Row = { book, key: parts.map(at), sums: books[book].sums.map(() => 0) }
    places.set(name, row)
    this.#rows.push(row)
    return row
  }
}
