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
    /** Whether the whole of it lies on one side of nothing. */
    readonly isClear: boolean
  }[]
}

const [ROW, LEFT, WIDTH, RIGHT, FOOT] = [40, 240, 760, 24, 34]
/** Beyond the double and beyond nothing there is no room. */
const MOST = 2

/** Where all of it stands, in units of the picture. What lies beyond its edge is drawn at the edge. */
export function intervalGeometry(rows: readonly IntervalRow[], band: readonly [number, number] | null = null): Geometry {
  const values = rows.flatMap(({ interval, point, measured }) => [...(interval ?? []), point ?? 0, measured ?? 0])
  const reach = Math.min(MOST, Math.max(0.001, ...values.map(Math.abs)) * 1.1)
  const x = scaleLinear([-reach, reach], [LEFT, WIDTH - RIGHT]).clamp(true)
  return {
    width: WIDTH,
    height: rows.length * ROW + FOOT,
    zero: x(0),
    ticks: x.ticks(6).map((value) => ({ value, x: x(value) })),
    band: band === null ? null : { x: x(band[0]), width: Math.max(1, x(band[1]) - x(band[0])) },
    rows: rows.map((of, index) => ({
      of,
      y: 6 + index * ROW + ROW / 2,
      line: of.interval === null ? null : [x(of.interval[0]), x(of.interval[1])],
      point: of.point === null ? null : x(of.point),
      measured: of.measured === null ? null : x(of.measured),
      isClear: of.interval !== null && (of.interval[0] > 0 || of.interval[1] < 0),
    })),
  }
}
