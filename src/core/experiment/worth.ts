import type { VersionId } from '../ids'
import { sequenceInterval, tuning, type Interval } from '../stats'
import { LEVEL } from './reading'

/** What the visitors of one version brought: visitors who were exposed, the sum of their worth, and of its square. */
export interface WorthCounts {
  readonly version: VersionId
  readonly exposed: number
  readonly worth: number
  readonly worthSquared: number
  /** Visits they made from their first exposure on. */
  readonly visits: number
}

export interface WorthResult {
  readonly version: VersionId
  readonly perVisitor: number | null
  readonly perVisit: number | null
  /** Difference of worth per visitor from the original, by the sequence; `null` for the original and while nobody came. */
  readonly difference: Interval | null
}

/** Worth per visitor is a mean; its difference from the original is safe to look at daily, as the sequence of the rates is. */
export function readWorth(arms: readonly WorthCounts[], plannedTotal: number): WorthResult[] {
  const [original] = arms
  const alpha = (1 - LEVEL) / Math.max(1, arms.length - 1)
  return arms.map((arm, index) => ({
    version: arm.version,
    perVisitor: arm.exposed === 0 ? null : arm.worth / arm.exposed,
    perVisit: arm.visits === 0 ? null : arm.worth / arm.visits,
    difference: index === 0 || original === undefined ? null : differenceOf(original, arm, plannedTotal, alpha),
  }))
}

function differenceOf(original: WorthCounts, arm: WorthCounts, plannedTotal: number, alpha: number): Interval | null {
  if (original.exposed < 2 || arm.exposed < 2) return null
  const [own, other] = [moments(arm), moments(original)]
  const standardError = Math.sqrt(own.variance / arm.exposed + other.variance / original.exposed)
  const watched = { estimate: own.mean - other.mean, standardError, total: original.exposed + arm.exposed }
  return sequenceInterval(watched, tuning(plannedTotal, alpha), alpha)
}

/** Sample variance from sums; rounding can take it below zero where all are alike. */
function moments({ exposed, worth, worthSquared }: WorthCounts): { mean: number; variance: number } {
  const mean = worth / exposed
  return { mean, variance: Math.max(0, (worthSquared - exposed * mean * mean) / (exposed - 1)) }
}
