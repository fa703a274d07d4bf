import { compareMeans, type MeanComparison, type Moments } from './mean'

/** What a unit did before (x) and since (y), and the group that it was drawn into; group 0 is the original. */
export interface Unit {
  readonly x: number
  readonly y: number
  readonly group: number
}

export interface AdjustedGroup {
  readonly n: number
  readonly mean: number
  readonly variance: number | null
  readonly adjustedMean: number
  readonly adjustedVariance: number | null
}

export interface AdjustedComparison extends MeanComparison {
  readonly group: number
  readonly unadjustedDifference: number
  /** The part of the variance of the difference that is gone. */
  readonly varianceReduction: number | null
}

/**
 * Means made steadier by what units did before: y′ = y − θ(x − x̄), θ over all units as one sample. A. Deng, Y. Xu, R. Kohavi,
 * T. Walker (2013), Improving the sensitivity of online controlled experiments by utilizing pre-experiment data.
 */
export function cuped(units: readonly Unit[], confidence: number) {
  const [xs, ys] = [units.map(({ x }) => x), units.map(({ y }) => y)]
  const [meanX, meanY] = [meanOf(xs), meanOf(ys)]
  const varianceX = varianceOf(xs, meanX) ?? 0
  const varianceY = varianceOf(ys, meanY) ?? 0
  const covariance = sum(units.map(({ x, y }) => (x - meanX) * (y - meanY))) / Math.max(1, units.length - 1)
  const theta = varianceX === 0 ? 0 : covariance / varianceX
  const correlation = varianceX === 0 || varianceY === 0 ? null : covariance / Math.sqrt(varianceX * varianceY)
  const adjusted = units.map(({ x, y, group }) => ({ y, group, adjusted: y - theta * (x - meanX) }))
  const largest = Math.max(...ys.map(Math.abs), 1)
  const groups = Array.from({ length: Math.max(-1, ...units.map(({ group }) => group)) + 1 }, (_, group): AdjustedGroup => {
    const own = adjusted.filter((unit) => unit.group === group)
    const before = momentsOf(own.map(({ y }) => y))
    const after = momentsOf(own.map((unit) => unit.adjusted))
    // What is constant in exact arithmetic leaves a residue of the size of rounding.
    const variance = after.variance !== null && after.variance < 1e-24 * largest * largest ? 0 : after.variance
    return { n: own.length, mean: before.mean, variance: before.variance, adjustedMean: after.mean, adjustedVariance: variance }
  })
  const [original, ...others] = groups
  const comparisons = others.flatMap((of, index) =>
    original === undefined ? [] : [compared(original, of, index + 1, confidence)],
  )
  return { theta, meanX, correlation, groups, comparisons }
}

function compared(original: AdjustedGroup, of: AdjustedGroup, group: number, confidence: number): AdjustedComparison {
  const after = ({ n, adjustedMean: mean, adjustedVariance: variance }: AdjustedGroup): Moments => ({ n, mean, variance })
  const spread = (one: number | null, other: number | null) =>
    one === null || other === null ? null : one / original.n + other / of.n
  const [before, now] = [spread(original.variance, of.variance), spread(original.adjustedVariance, of.adjustedVariance)]
  return {
    group,
    ...compareMeans(after(original), after(of), confidence),
    unadjustedDifference: of.mean - original.mean,
    varianceReduction: before === null || now === null || before === 0 ? null : 1 - now / before,
  }
}

const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0)
const meanOf = (values: readonly number[]) => sum(values) / values.length

function varianceOf(values: readonly number[], mean: number): number | null {
  return values.length < 2 ? null : sum(values.map((value) => (value - mean) ** 2)) / (values.length - 1)
}

function momentsOf(values: readonly number[]) {
  const mean = meanOf(values)
  return { mean, variance: varianceOf(values, mean) }
}
