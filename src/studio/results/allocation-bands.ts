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
