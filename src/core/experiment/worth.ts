import type { VersionId } from '../ids'
import { ratioOf, ratioVariance, sequenceInterval, tuning, type Interval, type PairMoments } from '../stats'
import { LEVEL } from './reading'

/** What the visitors of one version brought, as sums over those who were exposed. */
export interface WorthCounts {
  readonly version: VersionId
  readonly exposed: number
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
 * the original is safe to look at daily, as the sequence of the rates is.
 */
export function readWorth(arms: readonly WorthCounts[], plannedTotal: number): WorthResult[] {
  const [original] = arms
  const alpha = (1 - LEVEL) / Math.max(1, arms.length - 1)
  return arms.map((arm, index) => {
    const [own, other] = [momentsOf(arm), original === undefined ? null : momentsOf(original)]
    const compared = index === 0 || other === null ? null : { own, other }
    const watch = (estimate: number | null, squaredError: number | null): Interval | null => {
      if (compared === null || estimate === null || squaredError === null || own.n < 2 || compared.other.n < 2) return null
      const watched = { estimate, standardError: Math.sqrt(squaredError), total: own.n + compared.other.n }
      return sequenceInterval(watched, tuning(plannedTotal, alpha), alpha)
    }
    const mean = (of: PairMoments) => of.varianceY / of.n
    return {
      version: arm.version,
      perVisitor: own.n === 0 ? null : own.meanY,
      perVisit: own.n === 0 ? null : ratioOf(own),
      difference: other === null ? null : watch(own.meanY - other.meanY, mean(own) + mean(other)),
      visitDifference:
        other === null ? null : watch(less(ratioOf(own), ratioOf(other)), plus(ratioVariance(own), ratioVariance(other))),
    }
  })
}

function less(a: number | null, b: number | null): number | null {
  return a === null || b === null ? null : a - b
}

function plus(a: number | null, b: number | null): number | null {
  return a === null || b === null ? null : a + b
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
