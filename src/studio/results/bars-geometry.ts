/** A bar, from nothing to its value, in front of another that shows what it could have been. */
export interface Bar {
  readonly value: number
  readonly whole: number | null
  /** Behind its end. */
  readonly words: string
}

export interface BarRow {
  readonly id: string
  /** Empty for a row that belongs to the one above. */
  readonly name: string
  /** Which version it is of, the original first, where rows are told apart by that. */
  readonly version?: number
  /** One for each column; `null` where there is nothing to show. */
  readonly bars: readonly (Bar | null)[]
}

export interface Bars {
  readonly width: number
  readonly height: number
  /** Where each column begins. */
  readonly columns: readonly number[]
  readonly rows: readonly {
    readonly of: BarRow
    /** The middle of its bars, and the line that its name stands on. */
    readonly y: number
    readonly nameY: number
    readonly bars: readonly ({
      readonly x: number
      readonly long: number
      readonly whole: number
      readonly words: number
    } | null)[]
  }[]
}

export interface Layout {
  /** For the words behind a bar, in units of the picture. */
  readonly room: number
  /** Whether names stand above their bars and not beside them: long ones do. */
  readonly above?: boolean
  /** Whether versions are named above all rows, as no row names its own. */
  readonly named?: boolean
}

const [WIDTH, HEAD, FOOT] = [760, 22, 6]
/** Where bars begin: behind their names, or behind the mark of their version. */
const [BESIDE, BELOW] = [190, 26]
const [ROW, GAP, AIR, NAME] = [26, 8, 8, 22]

/** Bars of the same column are on the same scale, from nothing. */
export function barsGeometry(rows: readonly BarRow[], { room, above = false, named = false }: Layout): Bars {
  const many = Math.max(1, ...rows.map(({ bars }) => bars.length))
  const left = above ? BELOW : BESIDE
  const wide = (WIDTH - left) / many
  const columns = Array.from({ length: many }, (_, at) => left + at * wide)
  const most = columns.map((_, at) => Math.max(0, ...rows.flatMap(({ bars }) => [bars[at]?.value ?? 0, bars[at]?.whole ?? 0])))
  const longest = wide - room - AIR
  let y = above && !named ? 0 : HEAD
  const placed = rows.map((of, index) => {
    if (index > 0 && of.name !== '') y += GAP
    if (above && of.name !== '') y += NAME
    const middle = y + ROW / 2
    const nameY = above ? y - 4 : middle + 5
    y += ROW
    const bars = columns.map((x, at) => {
      const bar = of.bars[at] ?? null
      if (bar === null) return null
      const scaled = (value: number) => (most[at] === 0 ? 0 : (Math.max(0, value) / (most[at] ?? 1)) * longest)
      const [long, whole] = [scaled(bar.value), scaled(bar.whole ?? 0)]
      return { x, long, whole, words: x + Math.max(long, whole) + AIR }
    })
    return { of, y: middle, nameY, bars }
  })
  return { width: WIDTH, height: y + FOOT, columns, rows: placed }
}
