import type { VersionId } from '../ids'
import { mixtureInterval, ratioOf, ratioVariance, standardiseMeasures, tunings, type Interval, type PairMoments } from '../stats'
import { ENOUGH_CONVERTERS, ENOUGH_EXPOSED, LEVEL } from './reading'

/** What the visitors of one version who were drawn in one epoch brought, as sums over those who were exposed. */
export interface WorthCounts {
  readonly version: VersionId
  readonly weight: number
  readonly exposed: number
  readonly converters: number
  readonly worth: number
  readonly worthSquared: number
  /** Visits they made from their first exposure on, and the sum of their squares. */
  readonly visits: number
  readonly visitsSquared: number
  /** Of each visitor their visits times what they brought. */
  readonly visitsWorth: number
}

export interface WorthResult {
  readonly version: VersionId
  readonly perVisitor: number | null
  readonly perVisit: number | null
  /** Difference of worth per visitor from the original, by the sequence; `null` for the original and while nobody came. */
  readonly difference: Interval | null
  /** The same of worth per visit. */
  readonly visitDifference: Interval | null
}

/**
 * Worth per visitor is a mean, worth per visit a ratio of sums whose unit is the visitor; the difference of either from
 * the original is safe to look at daily, as the sequence of the rates is, and as silent about few. A few who buy much
 * make it unsafe all the same until many have.
 *
 * @param epochs the same versions in each, the original first
 * @param trusted without a split that is as planned, nothing is said of a difference
 */
export function readWorth(epochs: readonly (readonly WorthCounts[])[], plannedTotal: number, trusted: boolean): WorthResult[] {
  const [first = []] = epochs
  const alpha = (1 - LEVEL) / Math.max(1, first.length - 1)
  const rhos = tunings(plannedTotal, alpha)
  return first.map(({ version }, index) => {
    const own = sumOf(epochs, index)
    const moments = momentsOf(own)
    const watch = (of: Measure): Interval | null => {
      const found = standardiseMeasures(epochs.flatMap((arms) => measured(arms, index, of)))
      if (found === null) return null
      const { total, values, variances } = found
      const standardError = Math.sqrt(variances[0] + variances[1])
      return mixtureInterval({ estimate: values[1] - values[0], standardError, total }, rhos, alpha)
    }
    const isSaid = index > 0 && trusted && isEnough(sumOf(epochs, 0), own)
    return {
      version,
      perVisitor: moments.n === 0 ? null : moments.meanY,
      perVisit: moments.n === 0 ? null : ratioOf(moments),
      difference: isSaid ? watch(perVisitor) : null,
      visitDifference: isSaid ? watch(perVisit) : null,
    }
  })
}

/** A value with the square of its standard error; `null` where there is none. */
type Measure = (of: PairMoments) => readonly [number, number] | null
const perVisitor: Measure = ({ n, meanY, varianceY }) => (n < 2 ? null : [meanY, varianceY / n])
const perVisit: Measure = (of) => {
  const [ratio, variance] = [ratioOf(of), ratioVariance(of)]
  return ratio === null || variance === null ? null : [ratio, variance]
}

function measured(arms: readonly WorthCounts[], index: number, of: Measure) {
  const [original, arm] = [arms[0], arms[index]]
  if (original === undefined || arm === undefined) return []
  const [one, other] = [of(momentsOf(original)), of(momentsOf(arm))]
  if (one === null || other === null) return []
  return [
    {
      shares: [original.weight, arm.weight] as const,
      n: [original.exposed, arm.exposed] as const,
      values: [one[0], other[0]] as const,
      variances: [one[1], other[1]] as const,
    },
  ]
}

function isEnough(original: WorthCounts, arm: WorthCounts): boolean {
  return (
    Math.min(original.exposed, arm.exposed) >= ENOUGH_EXPOSED &&
    Math.max(original.converters, arm.converters) >= ENOUGH_CONVERTERS
  )
}

const summed = ['exposed', 'converters', 'worth', 'worthSquared', 'visits', 'visitsSquared', 'visitsWorth'] as const

function sumOf(epochs: readonly (readonly WorthCounts[])[], index: number): WorthCounts {
  const own = epochs.flatMap((arms) => arms[index] ?? [])
  const [first] = own
  if (first === undefined) throw new RangeError('worth: an epoch lacks a version')
  const sums = summed.map((name) => [name, own.reduce((sum, counts) => sum + counts[name], 0)])
  return { ...first, ...(Object.fromEntries(sums) as Pick<WorthCounts, (typeof summed)[number]>) }
}

/** Sample moments from sums; rounding can take a variance below zero where all are alike. */
function momentsOf({ exposed: n, worth, worthSquared, visits, visitsSquared, visitsWorth }: WorthCounts): PairMoments {
  const [meanX, meanY] = n === 0 ? [0, 0] : [visits / n, worth / n]
  const sample = (sum: number, product: number) => (n < 2 ? 0 : (sum - n * product) / (n - 1))
  return {
    n,
    meanX,
    meanY,
    varianceX: Math.max(0, sample(visitsSquared, meanX * meanX)),
    varianceY: Math.max(0, sample(worthSquared, meanY * meanY)),
    covariance: sample(visitsWorth, meanX * meanY),
  }
}
