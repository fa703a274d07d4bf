/** Distinct visitors exposed and, of these, those who converted. */
export interface Outcome {
  readonly n: number
  readonly conversions: number
}

export type Interval = readonly [lower: number, upper: number]

/** @throws {RangeError} for totals that cannot be counts */
export function rate({ n, conversions }: Outcome): number {
  const counts = Number.isInteger(n) && Number.isInteger(conversions) && n >= 1 && conversions >= 0 && conversions <= n
  if (!counts) throw new RangeError(`rate: ${conversions} converted of ${n} exposed are no counts`)
  return conversions / n
}
