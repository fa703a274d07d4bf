import { chiSquareSurvival } from './distributions'

export interface Estimate {
  readonly effect: number
  /** Above 0. */
  readonly standardError: number
}

/**
 * Do independent estimates of one effect differ by more than chance? Cochran's Q: the weighted squares of their distances
 * from their weighted mean, against chi-square. W. G. Cochran (1954), Biometrics 10, 101-129.
 *
 * @returns `null` for fewer than two
 */
export function cochranQ(estimates: readonly Estimate[]): { q: number; df: number; pValue: number } | null {
  if (estimates.length < 2) return null
  const weighed = estimates.map(({ effect, standardError }) => ({ effect, weight: 1 / standardError ** 2 }))
  const whole = weighed.reduce((sum, { weight }) => sum + weight, 0)
  const mean = weighed.reduce((sum, { effect, weight }) => sum + weight * effect, 0) / whole
  const q = weighed.reduce((sum, { effect, weight }) => sum + weight * (effect - mean) ** 2, 0)
  const df = estimates.length - 1
  return { q, df, pValue: chiSquareSurvival(q, df) }
}

/** Holm's adjusted p values (1979), which bound the chance that any of them is wrong, in the order of the input. */
export function holm(pValues: readonly number[]): number[] {
  const order = pValues.map((p, index) => ({ p, index })).sort((one, other) => one.p - other.p)
  const found = [...pValues]
  let most = 0
  order.forEach(({ p, index }, before) => {
    most = Math.max(most, Math.min(1, (pValues.length - before) * p))
    found[index] = most
  })
  return found
}

/** Of several p-values the ones that Benjamini and Hochberg (1995) would have: each not below a smaller one's. */
export function adjusted(pValues: readonly number[]): number[] {
  const order = pValues.map((p, index) => ({ p, index })).sort((one, other) => other.p - one.p)
  const found = [...pValues]
  let least = 1
  order.forEach(({ p, index }, from) => {
    least = Math.min(least, (p * pValues.length) / (pValues.length - from))
    found[index] = least
  })
  return found
}
