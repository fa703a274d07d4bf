import { scaleLinear } from 'd3'

/** A row of a picture of intervals: what is known of it, hollow where it was only measured. */
export interface IntervalRow {
  readonly id: string
  readonly name: string
  /** Below its name, smaller. */
  readonly under: string
  readonly interval: readonly [number, number] | null
  readonly point: number | null
  /** Beside the point: as it was measured. */
  readonly measured: number | null
  /** Which version it is of, the original first, where rows are told apart by that. */
  readonly version?: number
  /** Whether it is drawn as what can be relied on; where nothing is said, by whether it is clear of nothing. */
  readonly isStrong?: boolean
}

export interface Geometry {
  readonly width: number
  readonly height: number
  /** Where nothing is gained and nothing lost. */
  readonly zero: number
  readonly ticks: readonly { readonly value: number; readonly x: number }[]
  readonly band: { readonly x: number; readonly width: number } | null
  readonly rows: readonly {
    readonly of: IntervalRow
    readonly y: number
    readonly line: readonly [number, number] | null
    readonly point: number | null
    readonly measured: number | null
    readonly isStrong: boolean
  }[]
}

export interface Spacing {
  readonly band?: readonly [number, number] | null
  /** So much is seen at the least, to either side. */
  readonly least?: number
  /** Rows so near to each other that they have no names of their own: so many belong together. */
  readonly together?: number
}

const [LEFT, WIDTH, RIGHT, FOOT] = [240, 760, 24, 34]
const [ROW, NEAR, GAP] = [40, 24, 10]
/** Beyond the double and beyond nothing there is no room. */
const MOST = 2

/** Where all of it stands, in units of the picture. What lies beyond its edge is drawn at the edge. */
export function intervalGeometry(rows: readonly IntervalRow[], { band = null, least = 0.001, together }: Spacing = {}): Geometry {
  const values = rows.flatMap(({ interval, point, measured }) => [...(interval ?? []), point ?? 0, measured ?? 0])
  const reach = Math.max(least, ...values.map((value) => Math.min(MOST, Math.abs(value)))) * 1.1
  const x = scaleLinear([-reach, reach], [LEFT, WIDTH - RIGHT]).clamp(true)
  const tall = together === undefined ? ROW : NEAR
  const before = (index: number) => index * tall + (together === undefined ? 0 : Math.floor(index / together) * GAP)
  return {
    width: WIDTH,
    height: before(rows.length) + FOOT,
    zero: x(0),
    ticks: x.ticks(6).map((value) => ({ value, x: x(value) })),
    band: band === null ? null : { x: x(band[0]), width: Math.max(1, x(band[1]) - x(band[0])) },
    rows: rows.map((of, index) => ({
      of,
      y: 6 + before(index) + tall / 2,
      line: of.interval === null ? null : [x(of.interval[0]), x(of.interval[1])],
      point: of.point === null ? null : x(of.point),
      measured: of.measured === null ? null : x(of.measured),
      isStrong: of.isStrong ?? (of.interval !== null && (of.interval[0] > 0 || of.interval[1] < 0)),
    })),
  }
}
