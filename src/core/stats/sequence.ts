import type { Interval } from './outcome'

/**
 * Asymptotic confidence sequences: intervals that hold at every moment at once, so that a result may be looked at daily.
 * I. Waudby-Smith, D. Arbour, R. Sinha, E. H. Kennedy, A. Ramdas (2024), "Time-uniform central limit theory and
 * asymptotic confidence sequences", Annals of Statistics 52; the mixture goes back to H. Robbins (1970).
 */

/** An estimate with its standard error after `total` visitors in both groups. */
export interface Watched {
  readonly estimate: number
  readonly standardError: number
  readonly total: number
}

/**
 * The tuning that makes the sequence tightest at `plannedTotal` visitors of both groups: ρ²t* = y with
 * y = ln(y + 1) − 2 ln α, the lower branch of Lambert's function in other clothes.
 *
 * @param alpha strictly between 0 and 1
 */
export function tuning(plannedTotal: number, alpha: number): number {
  if (!(plannedTotal > 0)) throw new RangeError(`tuning: plannedTotal must be above 0, got ${plannedTotal}`)
  if (!(alpha > 0 && alpha < 1)) throw new RangeError(`tuning: alpha must lie strictly between 0 and 1, got ${alpha}`)
  const start = -2 * Math.log(alpha)
  // Newton on y − ln(1 + y) − start: convex and increasing for y > 0, so from above it only comes nearer.
  let y = start + Math.log(start + 1) + 1
  for (let step = 0; step < 60; step++) {
    const next = y - ((y - Math.log1p(y) - start) * (1 + y)) / y
    if (Math.abs(next - y) <= 1e-15 * y) break
    y = next
  }
  return Math.sqrt(y / plannedTotal)
}

/** How many standard errors the sequence reaches to either side after `total` visitors. */
export function reach(total: number, rho: number, alpha: number): number {
  const y = total * rho * rho
  return Math.sqrt(((2 * (y + 1)) / y) * (Math.log1p(y) / 2 - Math.log(alpha)))
}

/** The interval of the sequence now; `null` when the standard error is 0, which would claim certainty. */
export function sequenceInterval({ estimate, standardError, total }: Watched, rho: number, alpha: number): Interval | null {
  if (standardError === 0) return null
  const half = standardError * reach(total, rho, alpha)
  return [estimate - half, estimate + half]
}

/** The smallest alpha at which the sequence excludes 0, rho held: valid whenever it is looked at. */
export function sequencePValue({ estimate, standardError, total }: Watched, rho: number): number | null {
  if (standardError === 0) return estimate === 0 ? 1 : null
  const y = total * rho * rho
  const z = estimate / standardError
  return Math.min(1, Math.sqrt(y + 1) * Math.exp((-z * z * y) / (2 * (y + 1))))
}
