import { scaleBand, scaleLinear } from 'd3'

/** A strip of days for each version, one below the other, on one scale. */
export interface Strips {
  readonly width: number
  readonly height: number
  /** Where names end and days begin. */
  readonly left: number
  readonly bar: number
  readonly strips: readonly {
    readonly version: string
    /** The line that its bars stand on. */
    readonly y: number
    readonly bars: readonly { readonly day: string; readonly x: number; readonly tall: number }[]
  }[]
}

const [WIDTH, ROW, LEFT, AIR, FOOT] = [760, 34, 170, 8, 6]

/** @param counted by day, of each version that counted anything; none of a version that is not named */
export function stripsGeometry(
  versions: readonly string[],
  counted: readonly { readonly day: string; readonly counts: ReadonlyMap<string, number> }[],
): Strips {
  const x = scaleBand(
    counted.map(({ day }) => day),
    [LEFT, WIDTH - 4],
  ).paddingInner(0.25)
  const highest = Math.max(1, ...counted.flatMap(({ counts }) => [...counts.values()]))
  const y = scaleLinear([0, highest], [0, ROW - AIR])
  return {
    ...{ width: WIDTH, height: versions.length * ROW + FOOT, left: LEFT, bar: x.bandwidth() },
    strips: versions.map((version, index) => ({
      ...{ version, y: (index + 1) * ROW },
      bars: counted.map(({ day, counts }) => ({ day, x: x(day) ?? LEFT, tall: y(counts.get(version) ?? 0) })),
    })),
  }
}
