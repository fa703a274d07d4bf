/**
 * Mean and variance (divisor n − 1; `null` for one value) with what lies outside two percentiles put onto them, so that a
 * few who buy much do not carry the mean. Percentiles as R's type 7 (R. J. Hyndman, Y. Fan 1996). A lower percentile of 0
 * cuts at the top only.
 */
export function winsorised(values: readonly number[], lowerPercentile: number, upperPercentile: number) {
  if (values.length === 0) throw new RangeError('winsorised: there are no values')
  const sorted = [...values].sort((one, other) => one - other)
  const [lowerCut, upperCut] = [quantileOf(sorted, lowerPercentile), quantileOf(sorted, upperPercentile)]
  const clipped = values.map((value) => Math.min(upperCut, Math.max(lowerCut, value)))
  const mean = clipped.reduce((sum, value) => sum + value, 0) / clipped.length
  const squares = clipped.reduce((sum, value) => sum + (value - mean) ** 2, 0)
  return {
    ...{ lowerCut, upperCut, mean },
    variance: values.length < 2 ? null : squares / (values.length - 1),
    clippedLow: values.filter((value) => value < lowerCut).length,
    clippedHigh: values.filter((value) => value > upperCut).length,
  }
}

/** @param sorted smallest first */
export function quantileOf(sorted: readonly number[], p: number): number {
  const at = (sorted.length - 1) * p
  const below = sorted[Math.floor(at)] ?? NaN
  return below + (at - Math.floor(at)) * ((sorted[Math.floor(at) + 1] ?? below) - below)
}
