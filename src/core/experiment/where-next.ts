import { WHOLE, ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import { forecast } from './forecast'

/** A page or a step of a funnel from which people do not go on, over four weeks. */
export interface Loss {
  /** How many came here: visits in which the page was shown, or visitors who passed the step. */
  readonly came: number
  /** How many of them went no further. */
  readonly lost: number
  /** What one of those who come brings on average, whether they go on or not, and all that was brought in the same four weeks, in the same unit. */
  readonly worth: number
  readonly brought: number
}

/** What lies in a place, and what a test there could find in four weeks. */
export interface Stake {
  /** What those who were lost would have brought, had they been like all who came. Never more than all that was brought. */
  readonly atStake: number
  /** The same as a share of all that was brought, which compares points and money. */
  readonly share: number
  /** The smallest relative gain of those who go on that is seen with 80% chance; `null` where none is. */
  readonly seen: number | null
  /** What that gain would bring in four weeks. */
  readonly brings: number | null
}

const WEEKS = 4
/** Below this nothing is learned in any reasonable time. */
const FEWEST = 100

/**
 * How many came × the share of them that was lost × worth, and the smallest gain that a test of one variant on all of them finds in four weeks,
 * looked at whenever one likes. `null` where too few come, or nobody is lost.
 */
export function stakeOf({ came, lost, worth, brought }: Loss): Stake | null {
  if (came < FEWEST || lost <= 0 || worth <= 0 || brought <= 0) return null
  const goingOn = Math.max(0, 1 - lost / came)
  const arms = [ORIGINAL, 'variant' as VersionId].map((version) => ({ version, weight: WHOLE / 2, levels: [] }))
  const ahead = forecast(
    { arms, share: WHOLE, smallestEffect: 0.05 },
    {
      visitorsPerDay: came / (7 * WEEKS),
      recent: [],
      baseRate: goingOn,
    },
  )
  const seen = goingOn === 0 ? null : (ahead.seen.find(({ weeks }) => weeks === WEEKS)?.gain ?? null)
  const atStake = Math.min(lost * worth, brought)
  return { atStake, share: atStake / brought, seen, brings: seen === null ? null : came * goingOn * seen * worth }
}
