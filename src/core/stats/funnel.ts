import type { Interval } from './outcome'
import { wilson } from './proportion'

export interface FunnelStep {
  readonly count: number
  /** Of those who passed the step before; `null` where nobody did. */
  readonly stepRate: number | null
  readonly stepInterval: Interval | null
  /** Of those who entered. */
  readonly overallRate: number | null
  readonly overallInterval: Interval | null
}

/**
 * How many pass each step of a funnel, each share with its Wilson interval (E. B. Wilson 1927, JASA 22).
 *
 * @param counts those who entered, then those who passed each step; never growing
 */
export function funnel(counts: readonly number[], confidence: number): FunnelStep[] {
  const [entered = 0] = counts
  return counts.slice(1).map((count, index) => {
    const before = counts[index] ?? 0
    if (count > before) throw new RangeError(`funnel: step ${index + 1} has ${count}, more than the ${before} before it`)
    const share = (of: number) => (of === 0 ? null : count / of)
    const interval = (of: number) => (of === 0 ? null : wilson({ n: of, conversions: count }, confidence))
    return {
      count,
      stepRate: share(before),
      stepInterval: interval(before),
      overallRate: share(entered),
      overallInterval: interval(entered),
    }
  })
}
