import gammainc from '@stdlib/math-base-special-gammainc'

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
  return { chiSquare, df, pValue: chiSquare === 0 ? 1 : gammainc(chiSquare / 2, df / 2, true, true) }
}

function sum(values: readonly number[]): number {
  return values.reduce((total, value) => total + value, 0)
}
