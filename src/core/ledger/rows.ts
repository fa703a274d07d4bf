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
  /** Those who saw a version by what they had done before (`pasts`), for each goal, and who of them reached it. */
  earlier: { key: ['round', 'epoch', 'goal', 'version', 'past'], sums: ['exposed', 'converters'] },
  /** Those who saw a version by the version of another round that they had then, and who of them reached the goal that decides. */
  beside: { key: ['round', 'epoch', 'version', 'other', 'shown'], sums: ['exposed', 'converters'] },
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

/** The way to the row that was found last: all parts of its key but the last, and where each of them is looked for. */
interface Path {
  readonly names: string[]
  readonly places: Places[]
}

/** Where each sum stands in its rows. */
const placesIn = (sums: readonly string[]): ReadonlyMap<string, number> => new Map(sums.map((sum, place) => [sum, place]))
const placeOf: Readonly<Record<BookName, ReadonlyMap<string, number>>> = {
  tests: placesIn(books.tests.sums),
  segments: placesIn(books.segments.sums),
  worths: placesIn(books.worths.sums),
  earlier: placesIn(books.earlier.sums),
  beside: placesIn(books.beside.sums),
  doings: placesIn(books.doings.sums),
  site: placesIn(books.site.sums),
  calls: placesIn(books.calls.sums),
}

/** Where what is counted goes. */
export interface Adder {
  add<Name extends BookName>(
    book: Name,
    key: { readonly [Part in KeyOf<Name>]: string },
    by: { readonly [Sum in SumOf<Name>]?: number },
  ): void
}

/** For what has been counted before, and stays. */
export const nowhere: Adder = { add: () => undefined }

/**
 * Rows that are being added up. They are found one part of the key after the other: a name made of all parts would have to
 * be put together for every single thing that is counted.
 */
export class Sums implements Adder {
  readonly #paths = new Map<BookName, Path>()
  readonly #rows: Row[] = []
  /** Takes away what is added to it. */
  readonly less: Adder = { add: (book, key, by) => this.#change(book, key, by, -1) }

  add: Adder['add'] = (book, key, by) => this.#change(book, key, by, 1)

  #change(
    book: BookName,
    key: Readonly<Record<string, string>>,
    by: Readonly<Record<string, number | undefined>>,
    times: 1 | -1,
  ): void {
    const { sums } = this.#row(book, key)
    for (const name in by) {
      const value = by[name]
      const place = value === undefined || value === 0 ? undefined : placeOf[book].get(name)
      if (value !== undefined && place !== undefined) sums[place] = (sums[place] ?? 0) + times * value
    }
  }

  /** What is not nothing. Worth has cents, and what is left of a difference of cents is none. */
  rows(): Row[] {
    return this.#rows.filter(({ sums }) => sums.some((sum) => Math.abs(sum) > 1e-9))
  }

  /** What comes one after the other mostly begins alike: it is looked for from where the last one parts from it. */
  #row(book: BookName, key: Readonly<Record<string, string>>): Row {
    const parts = books[book].key
    const last = parts.length - 1
    const { names, places } = this.#pathOf(book)
    let depth = 0
    while (depth < last && names[depth] === key[parts[depth] ?? '']) depth++
    for (; depth < last; depth++) {
      const name = key[parts[depth] ?? ''] ?? ''
      const known = places[depth]?.get(name)
      const next: Places = known instanceof Map ? known : new Map<string, Places | Row>()
      if (next !== known) places[depth]?.set(name, next)
      names[depth] = name
      places[depth + 1] = next
    }
    const name = key[parts[last] ?? ''] ?? ''
    const known = places[last]?.get(name)
    if (known !== undefined && !(known instanceof Map)) return known
    const row: Row = { book, key: [...names, name], sums: books[book].sums.map(() => 0) }
    places[last]?.set(name, row)
    this.#rows.push(row)
    return row
  }

  #pathOf(book: BookName): Path {
    const known = this.#paths.get(book)
    if (known !== undefined) return known
    const path: Path = { names: [], places: [new Map<string, Places | Row>()] }
    this.#paths.set(book, path)
    return path
  }
}
