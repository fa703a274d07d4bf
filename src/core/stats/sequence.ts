import { normalCdf } from './normal'
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

/** How many standard errors the sequence with one tuning reaches to either side after `total` visitors. */
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

/** Of the planned total: a large difference is seen early by the first, a small one in time by the last. */
const PLANS = [1 / 64, 1 / 16, 1 / 4, 1]

/**
 * Several tunings together: the mean of nonnegative martingales is one (Robbins 1970), so that it holds for every plan, and
 * a plan that is far off costs time and never truth.
 */
export interface Mixture {
  readonly alpha: number
  readonly rhos: readonly number[]
  /** What was worked out for a total, as all goals of a round ask for the same ones. */
  readonly known: Map<number, Terms>
}

/** @param plannedTotal visitors of both groups for which the last of its tunings is best */
export function mixtureFor(plannedTotal: number, alpha: number): Mixture {
  return { alpha, rhos: PLANS.map((part) => tuning(part * plannedTotal, alpha)), known: new Map() }
}

/** After one total, of each tuning: ln M(z) = ln mean exp(curve·z²/2 − height). */
interface Terms {
  readonly curves: readonly number[]
  readonly heights: readonly number[]
  reach: number | null
}

function termsAt(total: number, { rhos, known }: Mixture): Terms {
  const before = known.get(total)
  if (before !== undefined) return before
  const ys = rhos.map((rho) => total * rho * rho)
  const terms = { curves: ys.map((y) => y / (1 + y)), heights: ys.map((y) => Math.log1p(y) / 2), reach: null }
  known.set(total, terms)
  return terms
}

/**
 * How far the mixture reaches after `total` visitors. In logarithms, as z²/2 passes 700.
 *
 * @returns standard errors to either side: the z > 0 with M(z) = 1/alpha
 */
export function mixtureReach(total: number, mixture: Mixture): number {
  const terms = termsAt(total, mixture)
  terms.reach ??= reachOf(terms, -Math.log(mixture.alpha))
  return terms.reach
}

function reachOf(terms: Terms, aim: number): number {
  // Where one of them alone would do is beyond where all do; ln M is convex, so from there Newton only comes nearer.
  const enough = aim + Math.log(terms.curves.length)
  let z = Math.min(...terms.curves.map((curve, at) => Math.sqrt((2 / curve) * (enough + (terms.heights[at] ?? 0)))))
  for (let step = 0; step < 100; step++) {
    const { value, slope } = logMixture(z, terms)
    const next = z - (value - aim) / slope
    if (!(Math.abs(next - z) > 1e-14 * z)) break
    z = next
  }
  return z
}

/** ln M(z), and its slope. The largest term is found first, and all are held against it. */
function logMixture(z: number, { curves, heights }: Terms): { value: number; slope: number } {
  const half = (z * z) / 2
  let largest = -Infinity
  for (let at = 0; at < curves.length; at++) largest = Math.max(largest, half * (curves[at] ?? 0) - (heights[at] ?? 0))
  let [sum, slopes] = [0, 0]
  for (let at = 0; at < curves.length; at++) {
    const curve = curves[at] ?? 0
    const weight = Math.exp(half * curve - (heights[at] ?? 0) - largest)
    sum += weight
    slopes += weight * curve * z
  }
  return { value: largest + Math.log(sum / curves.length), slope: slopes / sum }
}

/** How much later a walk is found above a line that is looked at in steps, as a share of a step’s spread: −ζ(1/2)/√(2π). */
const OVERSHOOT = 0.5826
/** So many standard errors beyond the boundary nothing is left of doubt that a number could hold. */
const CERTAIN = 8

/**
 * The chance that the mixture has excluded 0 at one of so many evenly spread looks, the last of them after `total` visitors:
 * that it does so now, and that it did before and would not any more. The boundary is taken as its tangent at the last look,
 * where most that is seen is seen (D. Siegmund, Sequential Analysis, 1985, sections III.2 and X.2); simulated, this is within
 * 2 points of a chance of 80% for 7 to 56 looks.
 *
 * @param errors how many standard errors what is true lies from 0 by the last look
 */
export function mixturePower(errors: number, total: number, looks: number, mixture: Mixture): number {
  const at = mixtureReach(total, mixture)
  if (errors > at + CERTAIN) return 1
  const step = 1e-4
  const slope = at / 2 + (mixtureReach(total * (1 + step), mixture) - at) / step
  const [start, drift] = [at - slope, errors - slope]
  const later = start + OVERSHOOT / Math.sqrt(looks)
  return normalCdf(errors - at) + Math.exp(2 * later * drift) * normalCdf(start - 2 * later - drift)
}

/** How many standard errors what is true must lie from 0 for this chance. */
export function errorsForPower(power: number, total: number, looks: number, mixture: Mixture): number {
  let high = mixtureReach(total, mixture) + 4
  let low = high - 8
  for (let half = 0; half < 40; half++) {
    const middle = (low + high) / 2
    if (mixturePower(middle, total, looks, mixture) < power) low = middle
    else high = middle
  }
  return high
}

/** The interval of the mixture now; `null` when the standard error is 0, which would claim certainty. */
export function mixtureInterval({ estimate, standardError, total }: Watched, mixture: Mixture) {
  if (standardError === 0) return null
  const half = standardError * mixtureReach(total, mixture)
  return [estimate - half, estimate + half] as const satisfies Interval
}

/** The smallest alpha at which the mixture excludes 0, its tunings held: valid whenever it is looked at. */
export function mixturePValue({ estimate, standardError, total }: Watched, mixture: Mixture): number | null {
  if (standardError === 0) return estimate === 0 ? 1 : null
  return Math.min(1, Math.exp(-logMixture(Math.abs(estimate / standardError), termsAt(total, mixture)).value))
}
