import { criticalValue, twoSided } from './normal'
import { rate, type Interval, type Outcome } from './outcome'

/**
 * Score interval for a conversion rate, without continuity correction. E. B. Wilson (1927), JASA 22, 209-212.
 * The lower limit is exactly 0 for no conversions, the upper exactly 1 when all converted.
 */
export function wilson(outcome: Outcome, confidence: number): Interval {
  const p = rate(outcome)
  const { n, conversions } = outcome
  const z = criticalValue(confidence)
  const centre = p + (z * z) / (2 * n)
  const reach = z * Math.sqrt((p * (1 - p)) / n + (z * z) / (4 * n * n))
  const scale = 1 + (z * z) / n
  return [conversions === 0 ? 0 : (centre - reach) / scale, conversions === n ? 1 : (centre + reach) / scale]
}

/**
 * Interval for the variant's rate minus the baseline's, as a fraction. Method 10 of R. G. Newcombe (1998), Statistics
 * in Medicine 17, 873-890: holds up at small counts and at rates near 0 or 1.
 */
export function newcombe(baseline: Outcome, variant: Outcome, confidence: number): Interval {
  const [p1, p2] = [rate(baseline), rate(variant)]
  const [l1, u1] = wilson(baseline, confidence)
  const [l2, u2] = wilson(variant, confidence)
  return [p2 - p1 - Math.hypot(p2 - l2, u1 - p1), p2 - p1 + Math.hypot(u2 - p2, p1 - l1)]
}

/** The variant's rate over the baseline's, less 1; `null` when nobody converted on the baseline. */
export function lift(baseline: Outcome, variant: Outcome): number | null {
  return baseline.conversions === 0 ? null : rate(variant) / rate(baseline) - 1
}

/** Standard error of ln(p2/p1) by the delta method; `null` where a logarithm or the error does not exist. */
export function logRatioError(baseline: Outcome, variant: Outcome): number | null {
  const [{ n: n1, conversions: c1 }, { n: n2, conversions: c2 }] = [baseline, variant]
  if (c1 === 0 || c2 === 0) return null
  const square = 1 / c1 - 1 / n1 + (1 / c2 - 1 / n2)
  return square > 0 ? Math.sqrt(square) : null
}

/** Interval for the relative lift on the log scale. D. Katz et al. (1978), Biometrics 34, 469-474. */
export function katz(baseline: Outcome, variant: Outcome, confidence: number): Interval | null {
  const error = logRatioError(baseline, variant)
  if (error === null) return null
  const ratio = Math.log(rate(variant) / rate(baseline))
  const reach = criticalValue(confidence) * error
  return [Math.expm1(ratio - reach), Math.expm1(ratio + reach)]
}

/** Standard error of the difference, each variance from its own group. */
export function differenceError(baseline: Outcome, variant: Outcome): number {
  const [p1, p2] = [rate(baseline), rate(variant)]
  return Math.sqrt((p1 * (1 - p1)) / baseline.n + (p2 * (1 - p2)) / variant.n)
}

/** The pooled z test of equal rates, two-sided, for one look at the planned end. All or none converted: z = 0, p = 1. */
export function pooledTest(baseline: Outcome, variant: Outcome): { z: number; pValue: number } {
  const pooled = (baseline.conversions + variant.conversions) / (baseline.n + variant.n)
  if (pooled === 0 || pooled === 1) return { z: 0, pValue: 1 }
  const error = Math.sqrt(pooled * (1 - pooled) * (1 / baseline.n + 1 / variant.n))
  const z = (rate(variant) - rate(baseline)) / error
  return { z, pValue: twoSided(z) }
}

/**
 * Score interval for the relative lift, which holds where nobody converts on one side. P. A. R. Koopman (1984), Biometrics
 * 40, 513-517. Its upper limit is `Infinity` where nobody converted on the baseline.
 */
export function koopman(baseline: Outcome, variant: Outcome, confidence: number): Interval {
  const [{ n: n1, conversions: c1 }, { n: n2, conversions: c2 }] = [baseline, variant]
  const zc = criticalValue(confidence)
  const [p1, p2, both] = [rate(baseline), rate(variant), c1 + c2]
  /** How far a ratio is from what was seen, in standard errors of the likeliest rates with that ratio; falling. */
  const far = (ratio: number) => {
    const b = n1 + c2 + ratio * (c1 + n2)
    const likely = (2 * both) / (b + Math.sqrt(Math.max(0, b * b - 4 * ratio * (n1 + n2) * both)))
    const other = ratio * likely
    const error = Math.sqrt((other * (1 - other)) / n2 + (ratio * ratio * likely * (1 - likely)) / n1)
    const distance = p2 - ratio * p1
    return distance === 0 ? 0 : distance / error
  }
  const at = (aim: number): number => {
    let [low, high] = [-60, 60]
    for (let step = 0; step < 200; step++) {
      const middle = (low + high) / 2
      if (middle === low || middle === high) break
      if (far(Math.exp(middle)) > aim) low = middle
      else high = middle
    }
    return Math.expm1((low + high) / 2)
  }
  return [c2 === 0 ? -1 : at(zc), c1 === 0 ? Infinity : at(-zc)]
}
