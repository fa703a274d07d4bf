import type { Outcome } from './outcome'

/** Two versions in a stretch of constant weights, the original first. */
export interface Stratum {
  /** Only their proportion matters. */
  readonly shares: readonly [number, number]
  readonly outcomes: readonly [Outcome, Outcome]
}

/** Rates standardised over epochs, and what they say of the difference. */
export interface Standardised {
  /** Visitors of the epochs that say something, of both versions. */
  readonly total: number
  readonly rates: readonly [number, number]
  readonly difference: number
  readonly differenceError: number
  /** `null` where nobody reached the goal on the original. */
  readonly lift: number | null
  /** Standard error of the logarithm of the ratio; `null` where one of the rates is 0. */
  readonly logError: number | null
}

/** What two versions had in one epoch: of any measure its value, and the square of its standard error. */
export interface Measured {
  readonly shares: readonly [number, number]
  readonly n: readonly [number, number]
  readonly values: readonly [number, number]
  readonly variances: readonly [number, number]
}

/**
 * Within an epoch the versions are comparable whatever came before; counts of different epochs are never added
 * (E. H. Simpson 1951). Direct standardisation over the epochs, with weights that are known before outcomes are: an epoch
 * counts by its visitors and by how even its split was. The epochs are a martingale, so a sequence holds for splits that
 * follow what visitors did. With one epoch it is the plain comparison.
 *
 * @returns `null` where no epoch had visitors of both
 */
export function standardiseMeasures(
  epochs: readonly Measured[],
): { readonly total: number; readonly values: [number, number]; readonly variances: [number, number] } | null {
  let whole = 0
  let total = 0
  let value0 = 0
  let value1 = 0
  let variance0 = 0
  let variance1 = 0
  // A loop with names of its own: it is gone through thousands of times for one report.
  for (const { shares, n, values, variances } of epochs) {
    const one = shares[0]
    const other = shares[1]
    const n0 = n[0]
    const n1 = n[1]
    if (!(one > 0 && other > 0 && n0 > 0 && n1 > 0)) continue
    const weight = ((n0 + n1) * one * other) / (one + other) ** 2
    whole += weight
    total += n0 + n1
    value0 += weight * values[0]
    value1 += weight * values[1]
    variance0 += weight * weight * variances[0]
    variance1 += weight * weight * variances[1]
  }
  if (whole === 0) return null
  return {
    total,
    values: [value0 / whole, value1 / whole],
    variances: [variance0 / whole ** 2, variance1 / whole ** 2],
  }
}

/** The same of rates. */
export function standardise(epochs: readonly Stratum[]): Standardised | null {
  const found = standardiseMeasures(
    epochs.map(({ shares, outcomes }) => {
      const baseline = outcomes[0]
      const variant = outcomes[1]
      return {
        shares,
        n: [baseline.n, variant.n],
        values: [baseline.conversions / baseline.n, variant.conversions / variant.n],
        variances: [varianceOfRate(baseline), varianceOfRate(variant)],
      }
    }),
  )
  if (found === null) return null
  const { total, values, variances } = found
  const p0 = values[0]
  const p1 = values[1]
  const v0 = variances[0]
  const v1 = variances[1]
  return {
    total,
    rates: [p0, p1],
    difference: p1 - p0,
    differenceError: Math.sqrt(v0 + v1),
    lift: p0 === 0 ? null : p1 / p0 - 1,
    logError: p0 === 0 || p1 === 0 ? null : Math.sqrt(v1 / p1 ** 2 + v0 / p0 ** 2),
  }
}

/** Of a rate. Where none or all converted it is not certain all the same: half a conversion is put to either side. */
export function varianceOfRate({ n, conversions }: Outcome): number {
  const p = conversions === 0 || conversions === n ? (conversions + 0.5) / (n + 1) : conversions / n
  return (p * (1 - p)) / n
}
