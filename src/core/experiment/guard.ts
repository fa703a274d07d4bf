import type { VersionId } from '../ids'
import type { Result } from './reading'

/** `broken`: worse by more than the margin. `holds`: not worse by as much as that. `open`: it could be either. */
export type GuardReading = 'broken' | 'holds' | 'open'

export interface GuardResult {
  readonly version: VersionId
  readonly reading: GuardReading
}

/**
 * Whether a goal got worse by more than a margin, variant by variant: by the sequence, one side of it, so it may be looked
 * at every day. Where nobody of a version reached the goal there is no lift, and the difference is held against what the
 * original has.
 *
 * @param margin relative: 0.05 is 5% of what the original has
 */
export function readGuard(result: Result, margin: number): GuardResult[] {
  const [original] = result.rates
  const base = original?.rate ?? 0
  return result.variants.map(({ version, liftInterval, differenceInterval }) => {
    const [lower, upper] = liftInterval ?? (base > 0 ? differenceInterval?.map((limit) => limit / base) : null) ?? []
    if (!result.split.trusted || lower === undefined || upper === undefined) return { version, reading: 'open' }
    return { version, reading: upper < -margin ? 'broken' : lower > -margin ? 'holds' : 'open' }
  })
}
