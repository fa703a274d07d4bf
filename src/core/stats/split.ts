import { chiSquareSurvival } from './distributions'
import { beyondStirling } from './stirling'

/**
 * Do the counts follow the planned split? Pearson's chi-square, no continuity correction (K. Pearson 1900).
 *
 * @param weights planned, above 0; they need not add up to 1
 */
export function splitCheck(
  counts: readonly number[],
  weights: readonly number[],
): { chiSquare: number; df: number; pValue: number } {
  if (counts.length !== weights.length || counts.length < 2) {
    throw new RangeError(`splitCheck: ${counts.length} counts and ${weights.length} weights; give as many of both, two or more`)
  }
  if (weights.some((weight) => !(weight > 0)))
    throw new RangeError(`splitCheck: every weight must be above 0, got ${weights.join(', ')}`)
  const [total, whole] = [sum(counts), sum(weights)]
  const df = counts.length - 1
  if (total === 0) return { chiSquare: 0, df, pValue: 1 }
  const chiSquare = sum(
    counts.map((count, index) => {
      const expected = (total * (weights[index] ?? 0)) / whole
      return (count - expected) ** 2 / expected
    }),
  )
  return { chiSquare, df, pValue: chiSquareSurvival(chiSquare, df) }
}

/** How large a deviation is looked for: the larger, the smaller. */
const CONCENTRATION = 10_000

/**
 * The evidence that counts do not follow the planned split, as a logarithm: valid whenever it is looked at, so that
 * `alarm` once it has ever passed ln 1000 is wrong in one of a thousand tests. Evidence of different epochs multiplies:
 * their logarithms are added.
 *
 * Dirichlet-multinomial e-value: M. Lindon, A. Malek (2022), Anytime-valid inference for multinomial count data. With
 * p = (a + n)/(K + N) it is (K + N)·KL(p, θ) and what Stirling’s formula leaves out, which keeps its digits in any size.
 *
 * @param weights planned, above 0; they need not add up to 1
 */
export function splitEvidence(counts: readonly number[], weights: readonly number[], concentration = CONCENTRATION): number {
  if (counts.length !== weights.length) {
    throw new RangeError(`splitEvidence: ${counts.length} counts and ${weights.length} weights; give as many of both`)
  }
  const [total, whole] = [sum(counts), sum(weights)]
  const after = concentration + total
  let evidence = Math.log1p(total / concentration) / 2 - beyondStirling(after) + beyondStirling(concentration)
  weights.forEach((weight, index) => {
    if (!(weight > 0)) throw new RangeError(`splitEvidence: every weight must be above 0, got ${weights.join(', ')}`)
    const theta = weight / whole
    const [count, before] = [counts[index] ?? 0, concentration * theta]
    evidence += (before + count) * Math.log1p((count - theta * total) / (theta * after))
    evidence += beyondStirling(before + count) - beyondStirling(before) - Math.log1p(count / before) / 2
  })
  return evidence
}

function sum(values: readonly number[]): number {
  return values.reduce((total, value) => total + value, 0)
}
