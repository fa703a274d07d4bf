import { ORIGINAL } from '../decide'
import type { VersionId } from '../ids'
import {
  adjusted,
  criticalValue,
  mixtureInterval,
  partEffects,
  mixtureFor,
  twoSided,
  type CombinationCell,
  type Interval,
} from '../stats'
import { levelsInUse, levelsOf, partsOf, type Design } from './design'
import { ENOUGH_CONVERTERS, ENOUGH_EXPOSED, LEVEL, type Evidence } from './reading'

/** What one version of a part does over whatever the other parts show. */
export interface LevelEffect {
  readonly part: number
  readonly version: VersionId
  readonly exposed: number
  readonly converters: number
  /** Against the part’s original, in rates; `null` while too few reached the goal, or where the combinations do not tell. */
  readonly difference: number | null
  /** Safe to look at daily, for all of them together. */
  readonly interval: Interval | null
}

/** Two versions that do more, or less, together than each by itself. */
export interface LevelPair {
  readonly parts: readonly [number, number]
  readonly versions: readonly [VersionId, VersionId]
  readonly difference: number
  /** By one look. */
  readonly interval: Interval
  /** Beyond chance, with all that is asked sharing its chance of being wrong. */
  readonly beyondChance: boolean
}

export interface PartsResult {
  readonly levels: readonly LevelEffect[]
  /** Of those that can be told, the surest first; none while too few reached the goal. */
  readonly pairs: readonly LevelPair[]
}

/**
 * In a test of combinations: which part does what. The combinations of an epoch are compared with each other alone, and each
 * counts by its visitors; those that were left out are missing and nothing else (`partEffects`).
 *
 * @returns `null` for a test of one part
 */
export function effectsOfParts(design: Design, { epochs, plannedTotal, days }: Evidence): PartsResult | null {
  const parts = partsOf(design)
  if (parts.length < 2) return null
  const levels = parts.map((_, part) => levelsInUse(design, part))
  const placeOf = (part: number, version: VersionId) => Math.max(0, levels[part]?.indexOf(version) ?? 0)
  const cells = epochs.flatMap((arms, stratum): CombinationCell[] =>
    arms
      .filter(({ weight }) => weight > 0)
      .map(({ version, exposed, converters }) => ({
        stratum,
        levels: levelsOf(design, version).map((level, part) => placeOf(part, level)),
        n: exposed,
        conversions: converters,
      })),
  )
  const showing = (wanted: readonly (readonly [number, number])[]) => {
    const own = cells.filter((cell) => wanted.every(([part, level]) => cell.levels[part] === level))
    return {
      exposed: own.reduce((sum, { n }) => sum + n, 0),
      converters: own.reduce((sum, { conversions }) => sum + conversions, 0),
    }
  }
  const found = partEffects(
    levels.map((of) => of.length),
    cells,
  )
  const singles = levels.flatMap((of, part) => of.slice(1).map((version, index) => ({ part, version, level: index + 1 })))
  const alpha = (1 - LEVEL) / Math.max(1, singles.length)
  const mixture = mixtureFor(plannedTotal, alpha)
  const enough = (of: readonly { readonly exposed: number; readonly converters: number }[]) =>
    days >= 1 && of.every(({ exposed, converters }) => exposed >= ENOUGH_EXPOSED && converters >= ENOUGH_CONVERTERS)
  return {
    levels: singles.map(({ part, version, level }) => {
      const own = showing([[part, level]])
      const effect = found.effects.find((one) => one.part === part && one.level === level)
      if (effect === undefined || !enough([own, showing([[part, 0]])]))
        return { part, version, ...own, difference: null, interval: null }
      const { difference: estimate, standardError } = effect
      const interval = mixtureInterval({ estimate, standardError, total: found.total }, mixture)
      return { part, version, ...own, difference: estimate, interval }
    }),
    pairs: pairsIn(found.pairs, levels, (of) => enough(of.map(showing))),
  }
}

function pairsIn(
  found: ReturnType<typeof partEffects>['pairs'],
  levels: readonly (readonly VersionId[])[],
  isEnough: (corners: readonly (readonly (readonly [number, number])[])[]) => boolean,
): LevelPair[] {
  const told = found.filter(({ parts: [p, q], levels: [one, other] }) =>
    isEnough([0, one].flatMap((a) => [0, other].map((b) => [[p, a] as const, [q, b] as const]))),
  )
  const chances = told.map(({ difference, standardError }) => twoSided(difference / standardError))
  const raised = adjusted(chances)
  const order = told.map((_, index) => index).sort((one, other) => (chances[one] ?? 1) - (chances[other] ?? 1))
  return order.flatMap((index): LevelPair[] => {
    const pair = told[index]
    if (pair === undefined) return []
    const {
      parts,
      levels: [one, other],
      difference,
      standardError,
    } = pair
    const reach = criticalValue(LEVEL) * standardError
    return [
      {
        parts,
        versions: [levels[parts[0]]?.[one] ?? ORIGINAL, levels[parts[1]]?.[other] ?? ORIGINAL],
        difference,
        interval: [difference - reach, difference + reach],
        beyondChance: (raised[index] ?? 1) < 1 - LEVEL,
      },
    ]
  })
}
