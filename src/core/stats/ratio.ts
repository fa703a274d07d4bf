import type { Interval } from './outcome'
import { criticalValue, twoSided } from './normal'

/** Two measures of each unit: x below the line (visits), y above it (worth). Variances and covariance with divisor n − 1. */
export interface PairMoments {
  readonly n: number
  readonly meanX: number
  readonly meanY: number
  readonly varianceX: number
  readonly varianceY: number
  readonly covariance: number
}

export interface RatioComparison {
  readonly ratio1: number | null
  readonly ratio2: number | null
  /** Squared standard errors of the ratios. */
  readonly variance1: number | null
  readonly variance2: number | null
  readonly difference: number | null
  readonly standardError: number | null
  readonly z: number | null
  readonly pValue: number | null
  readonly interval: Interval | null
  readonly lift: number | null
  readonly liftStandardError: number | null
  readonly liftInterval: Interval | null
}

/** A ratio of sums, such as worth per visit; `null` where nothing is below the line. */
export function ratioOf({ meanX, meanY }: PairMoments): number | null {
  return meanX === 0 ? null : meanY / meanX
}

/**
 * The variance of a ratio of sums by the delta method, the unit being the one that was drawn (the visitor); `null` for
 * fewer than two units. W. G. Cochran, Sampling Techniques (1977), chapter 6.
 */
export function ratioVariance(of: PairMoments): number | null {
  const ratio = ratioOf(of)
  if (ratio === null || of.n < 2) return null
  const terms = [of.varianceY, -2 * ratio * of.covariance, ratio * ratio * of.varianceX]
  const sum = terms.reduce((total, term) => total + term, 0)
  // What is zero in exact arithmetic leaves a residue of the size of the rounding of its largest term.
  const largest = Math.max(...terms.map(Math.abs))
  return sum <= 1e-12 * largest ? 0 : sum / (of.n * of.meanX * of.meanX)
}

/** Two ratios at one look, two-sided. With a standard error of 0 there is no interval: it would claim certainty. */
export function compareRatios(baseline: PairMoments, variant: PairMoments, confidence: number): RatioComparison {
  const [ratio1, ratio2] = [ratioOf(baseline), ratioOf(variant)]
  const [variance1, variance2] = [ratioVariance(baseline), ratioVariance(variant)]
  const difference = ratio1 === null || ratio2 === null ? null : ratio2 - ratio1
  const lift = ratio1 === null || ratio2 === null || ratio1 === 0 ? null : ratio2 / ratio1 - 1
  const none = { standardError: null, z: null, pValue: null, interval: null, liftStandardError: null, liftInterval: null }
  const found = { ratio1, ratio2, variance1, variance2, difference, lift }
  if (difference === null || ratio1 === null || ratio2 === null || variance1 === null || variance2 === null)
    return { ...found, ...none }
  const zc = criticalValue(confidence)
  const standardError = Math.sqrt(variance1 + variance2)
  const z = standardError === 0 ? (difference === 0 ? 0 : null) : difference / standardError
  const liftStandardError = ratio1 === 0 ? null : Math.sqrt(variance2 / ratio1 ** 2 + (ratio2 ** 2 * variance1) / ratio1 ** 4)
  return {
    ...found,
    standardError,
    z,
    pValue: z === null ? null : twoSided(z),
    interval: standardError === 0 ? null : [difference - zc * standardError, difference + zc * standardError],
    liftStandardError,
    liftInterval:
      lift === null || liftStandardError === null || liftStandardError === 0
        ? null
        : [lift - zc * liftStandardError, lift + zc * liftStandardError],
  }
}
