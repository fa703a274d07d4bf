import { ORIGINAL } from '../decide'
import { speedIn } from '../ledger'
import type { VersionId } from '../ids'
import { mixtureReach, mixtureFor, type Interval } from '../stats'
import { quantileOf, SLOWEST, type DoingRow, type Quantile } from './behaviour'
import type { GuardReading } from './guard'
import { LEVEL } from './reading'

/** How much longer a variant takes to be painted than the original, for one visitor in four. */
export interface SpeedGuard {
  readonly version: VersionId
  readonly reading: GuardReading
  /** As a part of what the original takes: 0.2 is a fifth longer. */
  readonly longer: number | null
  readonly interval: Interval | null
}

/** Of fewer measures, what three quarters of them stay below says nothing. */
const ENOUGH = 100

/**
 * Whether a variant is painted later than the original by more than a margin, measured on the first page with it, as browsers
 * report it anyway. The third quartile of each with the ranks that hold at every look (the count of those below it is a
 * binomial one, and its normal sequence is `mixtureReach`), so that it may be looked at daily; the two intervals are put
 * against each other at their worst.
 *
 * @param rows of one round @param versions the original first @param plannedTotal to which the sequence is tuned
 */
export function readSpeed(
  rows: readonly DoingRow[],
  versions: readonly VersionId[],
  margin: number,
  plannedTotal: number,
): SpeedGuard[] {
  // Two quartiles for each variant share the chance of being wrong.
  const alpha = (1 - LEVEL) / (2 * Math.max(1, versions.length - 1))
  const mixture = mixtureFor(plannedTotal / 2, alpha)
  const of = (version: VersionId): Quantile | null => {
    const counted = rows
      .filter((row) => row.version === version && row.doing === 'paint' && row.times > 0)
      .map(({ what, times }) => ({ value: speedIn('paint', Number(what)), times }))
      .sort((one, other) => one.value - other.value)
    const measured = counted.reduce((sum, { times }) => sum + times, 0)
    return measured < ENOUGH ? null : quantileOf(counted, SLOWEST, mixtureReach(measured, mixture))
  }
  const original = of(ORIGINAL)
  return versions
    .filter((version) => version !== ORIGINAL)
    .map((version) => {
      const variant = of(version)
      if (variant === null || original === null) return { version, reading: 'open', longer: null, interval: null }
      const interval: Interval = [variant.interval[0] / original.interval[1] - 1, variant.interval[1] / original.interval[0] - 1]
      const reading = interval[0] > margin ? 'broken' : interval[1] <= margin ? 'holds' : 'open'
      return { version, reading, longer: variant.value / original.value - 1, interval }
    })
}
