import gammaln from '@stdlib/math-base-special-gammaln'

/** ln Γ(x) less (x − ½)ln x − x + ½ln 2π. */
export function beyondStirling(x: number): number {
  if (x < 20) return gammaln(x) - (x - 0.5) * Math.log(x) + x - Math.log(2 * Math.PI) / 2
  const square = 1 / (x * x)
  return (1 / 12 - square * (1 / 360 - square * (1 / 1260 - square * (1 / 1680 - square / 1188)))) / x
}
