import erfc from '@stdlib/math-base-special-erfc'
import quantile from '@stdlib/stats-base-dists-normal-quantile'

/** P(Z <= x) for a standard normal Z; relative accuracy holds deep in the lower tail. */
export function normalCdf(x: number): number {
  return erfc(-x / Math.SQRT2) / 2
}

/** P(|Z| >= |z|). */
export function twoSided(z: number): number {
  return erfc(Math.abs(z) / Math.SQRT2)
}

/**
 * The x with P(Z <= x) = p.
 *
 * @param p strictly between 0 and 1
 * Newton's method on ln P from the library's quantile (3e-6 off in the tail, none below 1e-20) or, there, from the
 * first terms of the tail's expansion. Relative error below 1e-14.
 */
export function normalQuantile(p: number): number {
  if (!(p > 0 && p < 1)) throw new RangeError(`normalQuantile: p must lie strictly between 0 and 1, got ${p}`)
  if (p > 0.5) return -normalQuantile(1 - p)
  let x = p > 1e-20 ? quantile(p, 0, 1) : tailStart(p)
  for (let step = 0; step < 4; step++) {
    const below = normalCdf(x)
    const density = Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI)
    x -= (Math.log(below / p) * below) / density
  }
  return x
}

function tailStart(p: number): number {
  const square = -2 * Math.log(p)
  return -Math.sqrt(square - Math.log(2 * Math.PI * square))
}

/** The one that was asked for last: whoever asks for many asks for the same. */
let lastCritical = { confidence: NaN, value: NaN }

/** Two-sided critical value: 1.96 for 0.95. */
export function criticalValue(confidence: number): number {
  if (!(confidence > 0 && confidence < 1)) {
    throw new RangeError(`criticalValue: confidence must lie strictly between 0 and 1, got ${confidence}. Write 95 % as 0.95.`)
  }
  if (lastCritical.confidence !== confidence) lastCritical = { confidence, value: normalQuantile((1 + confidence) / 2) }
  return lastCritical.value
}
