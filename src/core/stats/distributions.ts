import betainc from '@stdlib/math-base-special-betainc'
import betaincinv from '@stdlib/math-base-special-betaincinv'
import gammainc from '@stdlib/math-base-special-gammainc'
import gammaln from '@stdlib/math-base-special-gammaln'
import { beyondStirling } from './stirling'

/** P(T <= x) for Student's t, through the incomplete beta function on whichever side keeps its digits. */
export function studentTCdf(x: number, df: number): number {
  const square = x * x
  const beyond =
    square > df ? betainc(df / (df + square), df / 2, 0.5) / 2 : betainc(square / (df + square), 0.5, df / 2, true, true) / 2
  return x > 0 ? 1 - beyond : beyond
}

/** P(|T| >= |t|). */
export function studentTwoSided(t: number, df: number): number {
  return 2 * studentTCdf(-Math.abs(t), df)
}

/** @param p strictly between 0 and 1 */
export function studentTQuantile(p: number, df: number): number {
  if (!(p > 0 && p < 1)) throw new RangeError(`studentTQuantile: p must lie strictly between 0 and 1, got ${p}`)
  if (p > 0.5) return -studentTQuantile(1 - p, df)
  if (p === 0.5) return 0
  const near = betaincinv(2 * p, df / 2, 0.5)
  if (near < 0.5) return -Math.sqrt((df * (1 - near)) / near)
  const far = betaincinv(2 * p, 0.5, df / 2, true)
  return -Math.sqrt((df * far) / (1 - far))
}

/** P(X > x). */
export const chiSquareSurvival = (x: number, df: number): number => (x <= 0 ? 1 : gammainc(x / 2, df / 2, true, true))

export const betaCdf = (x: number, a: number, b: number): number => betainc(x, a, b)

export const betaQuantile = (p: number, a: number, b: number): number => betaincinv(p, a, b)

export const logGamma = (x: number): number => gammaln(x)

/**
 * ln of the density of Beta(a, b). What is large cancels before it is added: ln B(a, b) as a difference of three
 * log-gammas of size 1e9 would leave few digits.
 */
export function betaLogPdf(x: number, a: number, b: number): number {
  const whole = a + b
  // ln(x/p) and ln((1 − x)/(1 − p)), p = a/(a + b) being where it is densest.
  const [one, other] = [(x * whole - a) / a, (a - x * whole) / b]
  const rest = beyondStirling(a) + beyondStirling(b) - beyondStirling(whole)
  const scale = (Math.log(a) + Math.log(b) - Math.log(whole) - Math.log(2 * Math.PI)) / 2
  return a * Math.log1p(one) + b * Math.log1p(other) - Math.log(x) - Math.log1p(-x) + scale - rest
}
