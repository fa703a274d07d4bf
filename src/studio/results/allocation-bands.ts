import { scaleUtc } from 'd3'
import { wholeDays } from './whole-days'

/** A stretch in which a version had a part of the split: from and to as shares of the whole time, low and high of the split. */
export interface Band {
  readonly version: string
  readonly from: number
  readonly to: number
  readonly low: number
  readonly high: number
}

interface Stretch {
  readonly since: string
  readonly arms: readonly { readonly version: string; readonly weight: number }[]
}

/**
 * How a split changed over time: in each stretch the versions on top of each other, in their own order.
 *
 * @param epochs oldest first, at least one
 * @param versions in the order in which they stand
 * @param until milliseconds since 1970: where the last stretch ends
 */
export function bandsOf(epochs: readonly Stretch[], versions: readonly string[], until: number): Band[] {
  const begins = epochs.map(({ since }) => new Date(since).getTime())
  const [first = until] = begins
  const whole = Math.max(1, until - first)
  return epochs.flatMap(({ arms }, at) => {
    const from = ((begins[at] ?? first) - first) / whole
    const to = (Math.min(until, begins[at + 1] ?? until) - first) / whole
    const together = arms.reduce((sum, { weight }) => sum + weight, 0)
    let low = 0
    return versions.flatMap((version): Band[] => {
      const weight = arms.find((arm) => arm.version === version)?.weight ?? 0
      if (weight === 0 || together === 0 || to <= from) return []
      const band = { version, from, to, low, high: low + weight / together }
      low = band.high
      return [band]
    })
  })
}

/** The same as a picture, in its units. */
export interface AllocationPicture {
  readonly width: number
  /** Where bands begin. */
  readonly left: number
  readonly height: number
  readonly bands: readonly {
    readonly version: string
    readonly x: number
    readonly y: number
    readonly width: number
    readonly height: number
  }[]
  /** Where the mark of a version stands in the largest of its bands; none where it has no band that holds it. */
  readonly marks: readonly { readonly version: string; readonly x: number; readonly y: number }[]
  /** Shares of the whole, with the line that their words stand on. */
  readonly levels: readonly { readonly share: number; readonly x: number; readonly y: number }[]
  readonly days: readonly { readonly day: Date; readonly x: number }[]
}

/** Above the bands is the line that names the versions. */
const [WIDTH, HEIGHT, LEFT, TOP, BOTTOM, RIGHT] = [760, 192, 58, 30, 30, 20]
/** A stretch of minutes can still be seen. */
const THINNEST = 0.5
/** A mark, from side to side. */
const MARK = 14

function markIn(bands: AllocationPicture['bands']): AllocationPicture['marks'] {
  const holding = bands.filter((band) => band.width >= MARK && band.height >= MARK)
  const [largest] = holding.toSorted((one, other) => other.width * other.height - one.width * one.height)
  if (largest === undefined) return []
  return [{ version: largest.version, x: largest.x + largest.width / 2, y: largest.y + largest.height / 2 }]
}

/** @returns `null` where nothing was changed, and nothing is to be shown */
export function allocationGeometry(
  epochs: readonly Stretch[],
  versions: readonly string[],
  until: number,
): AllocationPicture | null {
  const [first] = epochs
  if (epochs.length < 2 || first === undefined) return null
  const [width, height] = [WIDTH - LEFT - RIGHT, HEIGHT - BOTTOM - TOP]
  const x = scaleUtc([new Date(first.since), new Date(until)], [LEFT, WIDTH - RIGHT])
  const bands = bandsOf(epochs, versions, until).map(({ version, from, to, low, high }) => ({
    ...{ version, x: LEFT + from * width, y: TOP + low * height },
    width: Math.max(THINNEST, (to - from) * width),
    height: (high - low) * height,
  }))
  return {
    ...{ width: WIDTH, height: HEIGHT, left: LEFT, bands },
    marks: versions.flatMap((version) => markIn(bands.filter((band) => band.version === version))),
    levels: [0, 0.5, 1].map((share) => ({ share, x: LEFT - 8, y: TOP + 4 + share * height })),
    days: wholeDays(x.ticks(6)).map((day) => ({ day, x: x(day) })),
  }
}
