import { devices, ORIGINAL, type Condition } from '../decide'
import type { VersionId } from '../ids'
import type { Trait } from '../ledger'
import { logRatioError, normalQuantile, rate } from '../stats'
import type { SegmentArm, TraitResult } from './segments'

/** A version of a past test that may suit some visitors: something to try with a holdout, and nothing to believe. */
export interface Suggestion {
  readonly version: VersionId
  readonly trait: Trait
  readonly value: string
  /** Who they are, as a rule asks for them. */
  readonly condition: Condition
  /** Rates among them, and among all others of whom it is known. */
  readonly here: { readonly version: number; readonly original: number }
  readonly elsewhere: { readonly version: number; readonly original: number }
  readonly visitors: number
}

/** Fewer converters of either version say nothing about a rate. */
const ENOUGH = 10
const LEVEL = 0.95

/**
 * From the results of a test by what is known of visitors: where a version works otherwise for some than for others,
 * beyond chance (`bySegment`), the value at which it did best, if it did better than the original there by itself. It was
 * chosen among many, so that it looks better than it is: a rule with a holdout tells.
 */
export function suggestionsFrom(results: readonly TraitResult[]): Suggestion[] {
  return results.flatMap(({ trait, values, differing }) =>
    differing.flatMap((version) => {
      const found = values
        .flatMap(({ value, arms }) => {
          const condition = conditionFor(trait, value)
          const own = condition === null ? null : comparedIn(arms, version)
          return own === null || condition === null ? [] : [{ value, condition, ...own }]
        })
        .sort((one, other) => other.lift - one.lift)
      const [best] = found
      if (best === undefined || best.lowest <= 0) return []
      const others = found.filter((one) => one !== best)
      const sum = (of: 'variant' | 'original') => ({
        n: others.reduce((all, one) => all + one[of].n, 0),
        conversions: others.reduce((all, one) => all + one[of].conversions, 0),
      })
      const [variant, original] = [sum('variant'), sum('original')]
      if (variant.n === 0 || original.n === 0) return []
      return [
        {
          ...{ version, trait, value: best.value, condition: best.condition },
          here: { version: rate(best.variant), original: rate(best.original) },
          elsewhere: { version: rate(variant), original: rate(original) },
          visitors: best.variant.n + best.original.n,
        },
      ]
    }),
  )
}

function comparedIn(arms: readonly SegmentArm[], version: VersionId) {
  const [original, variant] = [ORIGINAL, version].map((id) => {
    const arm = arms.find((one) => one.version === id)
    return arm === undefined || arm.converters < ENOUGH ? null : { n: arm.exposed, conversions: arm.converters }
  })
  const error = original == null || variant == null ? null : logRatioError(original, variant)
  if (original == null || variant == null || error === null) return null
  const lift = Math.log(rate(variant) / rate(original))
  return { original, variant, lift, lowest: lift - normalQuantile((1 + LEVEL) / 2) * error }
}

/** What a rule has to ask to find them again; `null` where no rule can. */
export function conditionFor(trait: Trait, value: string): Condition | null {
  switch (trait) {
    case 'device': {
      const device = devices.find((one) => one === value)
      return device === undefined ? null : { kind: 'device', device }
    }
    case 'source':
      return { kind: 'source', source: value }
    case 'region':
      return { kind: 'region', region: value }
    case 'language':
      return /^[a-z]{2,3}$/.test(value) ? { kind: 'language', language: value } : null
    case 'returning':
      return { kind: 'returning', returning: value !== 'new' }
    default:
      return trait satisfies never
  }
}
