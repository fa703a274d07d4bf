import { normalCdf, normalQuantile } from './normal'

/** Unpooled variances throughout; alpha is shared between the comparisons with the original (Bonferroni). */
export interface Plan {
  /** Conversion rate of the original, in (0, 1). */
  readonly baselineRate: number
  readonly alpha: number
  /** Chance of seeing an effect that is there, in (0, 1). */
  readonly power: number
  /** Versions in the test, the original included. */
  readonly variants: number
}

/**
 * Visitors needed to see a relative effect at one look. Chow, Shao & Wang, Sample Size Calculations in Clinical Research.
 *
 * @param ratio visitors of one variant for each of the original
 * @throws {RangeError} for an effect of 0 or one that leaves no rate in (0, 1)
 */
export function sampleSize(plan: Plan, relativeEffect: number, ratio: number) {
  const { baselineRate: p1, variants } = plan
  const p2 = p1 * (1 + relativeEffect)
  if (p2 === p1 || p2 < 0 || p2 > 1)
    throw new RangeError(`sampleSize: an effect of ${relativeEffect} on a rate of ${p1} cannot be planned for`)
  const { za, zb } = quantiles(plan)
  const exact = ((za + zb) ** 2 * (p1 * (1 - p1) + (p2 * (1 - p2)) / ratio)) / (p2 - p1) ** 2
  const [nBaseline, nVariant] = [Math.ceil(exact), Math.ceil(ratio * exact)]
  return {
    nBaselineExact: exact,
    nVariantExact: ratio * exact,
    nBaseline,
    nVariant,
    nTotal: nBaseline + (variants - 1) * nVariant,
  }
}

/** The chance of seeing this effect with these counts; the far tail is left out. */
export function powerOf(plan: Omit<Plan, 'power'>, relativeEffect: number, nBaseline: number, nVariant: number): number {
  const p1 = plan.baselineRate
  const p2 = p1 * (1 + relativeEffect)
  const error = Math.sqrt((p1 * (1 - p1)) / nBaseline + (p2 * (1 - p2)) / nVariant)
  return normalCdf(Math.abs(p2 - p1) / error - quantiles({ ...plan, power: 0.5 }).za)
}

/**
 * The smallest relative effects, up and down, that are seen with the planned power; `null` where the rate would leave
 * [0, 1].
 */
export function detectable(
  plan: Plan,
  nBaseline: number,
  nVariant: number,
): { relativeIncrease: number | null; relativeDecrease: number | null } {
  const { za, zb } = quantiles(plan)
  return detectableAt(za + zb, plan.baselineRate, nBaseline, nVariant)
}

/**
 * The relative effects that lie so many standard errors from nothing. With k their square, d solves
 * d²(1 + k/n2) − dk(1 − 2p)/n2 − kp(1 − p)(1/n1 + 1/n2) = 0.
 */
export function detectableAt(
  errors: number,
  p: number,
  nBaseline: number,
  nVariant: number,
): { relativeIncrease: number | null; relativeDecrease: number | null } {
  const k = errors ** 2
  const a = 1 + k / nVariant
  const b = (-k * (1 - 2 * p)) / nVariant
  const c = -k * p * (1 - p) * (1 / nBaseline + 1 / nVariant)
  // The numerically stable pair of roots: one by the sum that does not cancel, the other from their product c/a.
  const q = -(b + Math.sign(b || 1) * Math.sqrt(b * b - 4 * a * c)) / 2
  const [up, down] = [Math.max(q / a, c / q), Math.min(q / a, c / q)]
  const relative = (d: number) => (p + d < 0 || p + d > 1 ? null : d / p)
  return { relativeIncrease: relative(up), relativeDecrease: relative(down) }
}

function quantiles({ alpha, power, variants }: Omit<Plan, 'baselineRate'>): { za: number; zb: number } {
  if (variants < 2) throw new RangeError(`power: a comparison needs 2 versions or more, got ${variants}`)
  return { za: -normalQuantile(alpha / (variants - 1) / 2), zb: normalQuantile(power) }
}
