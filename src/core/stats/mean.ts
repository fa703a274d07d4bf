import { studentTQuantile, studentTwoSided } from './distributions'
import { criticalValue } from './normal'
import type { Interval } from './outcome'

/** Of a group: how many, their mean, and their variance (divisor n − 1); `null` for fewer than two. */
export interface Moments {
  readonly n: number
  readonly mean: number
  readonly variance: number | null
}

export interface MeanComparison {
  readonly difference: number
  readonly standardError: number | null
  readonly t: number | null
  readonly df: number | null
  readonly pValue: number | null
  readonly interval: Interval | null
  readonly lift: number | null
  readonly liftStandardError: number | null
  readonly liftInterval: Interval | null
  readonly liftIntervalFieller: Interval | null
}

/**
 * Two means at one look, two-sided. B. L. Welch (1947), Biometrika 34, 28-35; the lift by the delta method, and by E. C.
 * Fieller (1954), which holds where the original's mean is near 0. With a standard error of 0 there is no interval.
 */
export function compareMeans(baseline: Moments, variant: Moments, confidence: number): MeanComparison {
  const difference = variant.mean - baseline.mean
  const lift = baseline.mean === 0 ? null : variant.mean / baseline.mean - 1
  const none = { standardError: null, t: null, df: null, pValue: null, interval: null }
  const noLift = { liftStandardError: null, liftInterval: null, liftIntervalFieller: null }
  if (baseline.variance === null || variant.variance === null || Math.min(baseline.n, variant.n) < 2)
    return { difference, lift, ...none, ...noLift }
  const [one, other] = [baseline.variance / baseline.n, variant.variance / variant.n]
  const tested = welch(difference, { one, other, baseline, variant, confidence })
  if (lift === null) return { difference, lift, ...tested, ...noLift }
  const [m1, m2] = [baseline.mean, variant.mean]
  const zc = criticalValue(confidence)
  const liftStandardError = Math.sqrt(other / (m1 * m1) + (m2 * m2 * one) / m1 ** 4)
  const liftInterval: Interval | null =
    liftStandardError === 0 ? null : [lift - zc * liftStandardError, lift + zc * liftStandardError]
  return { difference, lift, ...tested, liftStandardError, liftInterval, liftIntervalFieller: fieller(m1, m2, one, other, zc) }
}

interface Spread {
  readonly one: number
  readonly other: number
  readonly baseline: Moments
  readonly variant: Moments
  readonly confidence: number
}

function welch(difference: number, { one, other, baseline, variant, confidence }: Spread) {
  const standardError = Math.sqrt(one + other)
  if (standardError === 0) {
    const same = difference === 0
    return { standardError, t: same ? 0 : null, df: null, pValue: same ? 1 : null, interval: null }
  }
  const t = difference / standardError
  const df = (one + other) ** 2 / (one ** 2 / (baseline.n - 1) + other ** 2 / (variant.n - 1))
  const reach = -studentTQuantile((1 - confidence) / 2, df) * standardError
  const interval: Interval = [difference - reach, difference + reach]
  return { standardError, t, df, pValue: studentTwoSided(t, df), interval }
}

function fieller(m1: number, m2: number, one: number, other: number, zc: number): Interval | null {
  const g = (zc * zc * one) / (m1 * m1)
  if (!(g < 1) || one + other === 0) return null
  const ratio = m2 / m1
  const reach = (zc / Math.abs(m1)) * Math.sqrt(other + ratio * ratio * one - g * other)
  return [(ratio - reach) / (1 - g) - 1, (ratio + reach) / (1 - g) - 1]
}
