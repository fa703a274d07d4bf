import { Matrix, pseudoInverse } from 'ml-matrix'
import { varianceOfRate } from './epochs'
import type { Outcome } from './outcome'

/** What one combination had in one stretch of constant weights. */
export interface CombinationCell extends Outcome {
  /** From 0. */
  readonly stratum: number
  /** What each part shows, 0 for the original, in the order of the parts. */
  readonly levels: readonly number[]
}

/** What one level of a part does, over whatever the other parts show. */
export interface PartEffect {
  readonly part: number
  readonly level: number
  /** Of the rates. */
  readonly difference: number
  readonly standardError: number
}

/** What two levels together do beyond what each of them does. */
export interface PairEffect {
  readonly parts: readonly [number, number]
  readonly levels: readonly [number, number]
  readonly difference: number
  readonly standardError: number
}

interface Term {
  readonly is: (cell: CombinationCell) => boolean
}

/**
 * The effects of parts by a linear model on the rates of combinations, each counting by its visitors: a base for every
 * stratum, and what each level adds to it. Combinations may be left out. Errors are those of the cells' own binomial
 * variances (H. White 1980, weighted least squares), so that unequal rates and sizes do no harm.
 *
 * @param levels how many each part has, the original included
 * @returns effects that the combinations there are cannot tell apart are left out
 */
export function partEffects(levels: readonly number[], cells: readonly CombinationCell[]) {
  const used = cells.filter(({ n }) => n > 0)
  const singles = levels.flatMap((many, part) =>
    Array.from({ length: many - 1 }, (_, index) => ({ part, level: index + 1, is: shows(part, index + 1) })),
  )
  const bases: Term[] = [...new Set(used.map(({ stratum }) => stratum))].map((stratum) => ({
    is: (cell) => cell.stratum === stratum,
  }))
  const main = fitted([...bases, ...singles], used)
  const effects = singles.flatMap(({ part, level }, index): PartEffect[] => {
    const found = main.at(bases.length + index)
    return found == null ? [] : [{ part, level, ...found }]
  })
  const together = pairsOf(singles).map(([one, other]) => ({
    ...{ one, other },
    is: (cell: CombinationCell) => one.is(cell) && other.is(cell),
  }))
  const before = bases.length + singles.length
  // All of them at once, so that none takes what is another's; where that is too much for the cells, none is told.
  const all = fitted([...bases, ...singles, ...together], used)
  const pairs = together.flatMap(({ one, other }, index): PairEffect[] => {
    const found = all.at(before + index)
    return found == null ? [] : [{ parts: [one.part, other.part], levels: [one.level, other.level], ...found }]
  })
  return { effects, pairs, total: used.reduce((sum, { n }) => sum + n, 0) }
}

const shows = (part: number, level: number) => (cell: CombinationCell) => cell.levels[part] === level

function pairsOf<One extends { readonly part: number }>(singles: readonly One[]): [One, One][] {
  return singles.flatMap((one, index) =>
    singles.slice(index + 1).flatMap((other): [One, One][] => (one.part === other.part ? [] : [[one, other]])),
  )
}

/** @returns of each term what it adds and its standard error; `null` where the cells say nothing of it by itself */
function fitted(
  terms: readonly Term[],
  cells: readonly CombinationCell[],
): ({ readonly difference: number; readonly standardError: number } | null)[] {
  if (cells.length === 0 || terms.length === 0) return terms.map(() => null)
  const root = cells.map(({ n }) => Math.sqrt(n))
  const design = new Matrix(cells.map((cell, row) => terms.map(({ is }) => (is(cell) ? (root[row] ?? 0) : 0))))
  const inverse = pseudoInverse(design)
  const rates = Matrix.columnVector(cells.map(({ n, conversions }, row) => ((root[row] ?? 0) * conversions) / n))
  const found = inverse.mmul(rates)
  // A term is told by itself where the model can bring it back whole from what it says.
  const resolved = inverse.mmul(design)
  return terms.map((_, term) => {
    const isAlone = terms.every((__, other) => Math.abs(resolved.get(term, other) - (other === term ? 1 : 0)) < 1e-8)
    if (!isAlone) return null
    const variance = cells.reduce(
      (sum, cell, row) => sum + (inverse.get(term, row) * (root[row] ?? 0)) ** 2 * varianceOfRate(cell),
      0,
    )
    return { difference: found.get(term, 0), standardError: Math.sqrt(variance) }
  })
}
