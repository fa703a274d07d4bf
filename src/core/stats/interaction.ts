import { criticalValue, twoSided } from './normal'
import { rate, type Interval, type Outcome } from './outcome'
import { lift, pooledTest } from './proportion'

/** The four groups that two tests at once make: by whether the first and the second showed their variants. */
export interface Cells {
  readonly a0b0: Outcome
  readonly a0b1: Outcome
  readonly a1b0: Outcome
  readonly a1b1: Outcome
}

/** Whether one test works otherwise where the other shows its variant; the difference of the two effects. */
export function interaction({ a0b0, a0b1, a1b0, a1b1 }: Cells, confidence: number) {
  const effectAtB0 = rate(a1b0) - rate(a0b0)
  const effectAtB1 = rate(a1b1) - rate(a0b1)
  const cells = [a0b0, a0b1, a1b0, a1b1]
  const found = effectAtB1 - effectAtB0
  // What is nothing in exact arithmetic leaves a residue of the size of rounding.
  const effect = Math.abs(found) < 1e-14 ? 0 : found
  const standardError = Math.sqrt(cells.reduce((sum, cell) => sum + (rate(cell) * (1 - rate(cell))) / cell.n, 0))
  const of = { effectAtB0, effectAtB1, interaction: effect, standardError }
  if (standardError === 0) return { ...of, z: effect === 0 ? 0 : null, pValue: effect === 0 ? 1 : null, interval: null }
  const z = effect / standardError
  const reach = criticalValue(confidence) * standardError
  const interval: Interval = [effect - reach, effect + reach]
  return { ...of, z, pValue: twoSided(z), interval }
}

export interface FactorialCell extends Outcome {
  /** Which level of each factor it shows, in their order. */
  readonly levels: readonly number[]
}

/**
 * What each part of a test of combinations does, over whatever the others show: each level against the first of its part.
 *
 * @param factors how many levels each part has
 */
export function mainEffects(factors: readonly number[], cells: readonly FactorialCell[]) {
  return factors.map((levels, factor) => {
    const pooled = Array.from({ length: levels }, (_, level) => {
      const own = cells.filter((cell) => cell.levels[factor] === level)
      return {
        n: own.reduce((sum, { n }) => sum + n, 0),
        conversions: own.reduce((sum, { conversions }) => sum + conversions, 0),
      }
    })
    const [first] = pooled
    return {
      factor,
      levels: pooled.map((of, level) => {
        const own = { level, ...of, rate: of.n === 0 ? null : rate(of) }
        if (level === 0 || first === undefined || first.n === 0 || of.n === 0)
          return { ...own, difference: null, lift: null, z: null, pValue: null }
        return { ...own, difference: rate(of) - rate(first), lift: lift(first, of), ...pooledTest(first, of) }
      }),
    }
  })
}
