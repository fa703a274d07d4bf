import type { VersionId } from '../ids'
import type { Result } from './reading'

/** `broken`: worse by more than the margin. `holds`: not worse by as much as that. `open`: it could be either. */
export type GuardReading = 'broken' | 'holds' | 'open'

export interface GuardResult {
  readonly version: VersionId
  readonly reading: GuardReading
}

/**
 * Whether a goal got worse by more than a margin, variant by variant: by the sequence of the lift, one side of it, so it
 * may be looked at every day.
 *
 * @param margin relative: 0.05 is 5% of what the original has
 */
export function readGuard(result: Result, margin: number): GuardResult[] {
  return result.variants.map(({ version, liftInterval, wait }) => {
    const early = wait === 'fewExposed' || wait === 'fewConverters' || wait === 'lessThanADay'
    if (!result.split.trusted || early || liftInterval === null) return { version, reading: 'open' }
    const [lower, upper] = liftInterval
    return { version, reading: upper < -margin ? 'broken' : lower > -margin ? 'holds' : 'open' }
  })
}
