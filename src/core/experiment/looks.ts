import type { GoalId, VersionId } from '../ids'
import type { ArmCounts, Evidence } from './reading'

/** What one version of those drawn in one epoch did on one day, for one goal; worth as sums over visitors. */
export interface DayCounts {
  /** From one. */
  readonly epoch: number
  readonly version: VersionId
  /** Of the site’s calendar, as 2026-03-31. */
  readonly day: string
  readonly assigned: number
  readonly exposed: number
  readonly converters: number
  readonly worth: number
  readonly worthSquared: number
  readonly visits: number
  readonly visitsSquared: number
  readonly visitsWorth: number
}

/** The same, of one goal: '' for those who came; a goal, or a step of a funnel, for those who reached it. */
export type CountedRow = DayCounts & { readonly goal: string }

const sums = ['assigned', 'exposed', 'converters', 'worth', 'worthSquared', 'visits', 'visitsSquared', 'visitsWorth'] as const

/** Those who came and what they reached of one goal, by epoch, version and day, oldest first. */
export function countsFor(rows: readonly CountedRow[], goal: GoalId): DayCounts[] {
  const found = new Map<string, { -readonly [Name in keyof DayCounts]: DayCounts[Name] }>()
  // Most rows are of other goals, and are not copied.
  for (const row of rows.filter(({ goal: of }) => of === '' || of === goal)) {
    const key = `${row.day} ${row.epoch} ${row.version}`
    const counts = found.get(key)
    if (counts === undefined) found.set(key, withoutGoal(row))
    else for (const sum of sums) counts[sum] += row[sum]
  }
  // A day that was taken back to nothing, since what was counted on it happened on another, is no day.
  return [...found]
    .filter(([, counts]) => sums.some((sum) => counts[sum] !== 0))
    .sort(([one], [other]) => (one < other ? -1 : 1))
    .map(([, counts]) => counts)
}

function withoutGoal(row: CountedRow): DayCounts {
  const { epoch, version, day, assigned, exposed, converters, worth, worthSquared, visits, visitsSquared, visitsWorth } = row
  return { epoch, version, day, assigned, exposed, converters, worth, worthSquared, visits, visitsSquared, visitsWorth }
}

/** How many of a version reached a goal, or passed a step, over the whole round. */
export function convertersOf(rows: readonly CountedRow[], goal: GoalId, version: VersionId): number {
  return rows.reduce((sum, row) => (row.goal === goal && row.version === version ? sum + row.converters : sum), 0)
}

/** An epoch as far as reading goes: the day on which it began, and how visitors were divided. */
export interface Weighing {
  readonly since: string
  readonly arms: readonly { readonly version: VersionId; readonly weight: number }[]
}

export interface Look {
  readonly day: string
  readonly evidence: Evidence
}

/**
 * What was known at the end of each day on which anything was counted, oldest first. An epoch that began later was not
 * known then.
 *
 * @param days that have passed, pauses left out: by no look more
 */
export function looksOf(
  weighings: readonly Weighing[],
  counts: readonly DayCounts[],
  { days, ...plan }: Pick<Evidence, 'days' | 'smallestEffect' | 'plannedTotal'>,
): Look[] {
  const versions = [...new Set(weighings.flatMap(({ arms }) => arms.map(({ version }) => version)))]
  const upTo = weighings.map(() => new Map(versions.map((version) => [version, { assigned: 0, exposed: 0, converters: 0 }])))
  const inTurn = [...counts].sort((one, other) => (one.day < other.day ? -1 : one.day > other.day ? 1 : 0))
  const named = [...new Set(inTurn.map(({ day }) => day))]
  let at = 0
  return named.map((day, index) => {
    for (let row = inTurn[at]; row?.day === day; row = inTurn[++at]) {
      const sums = upTo[row.epoch - 1]?.get(row.version)
      if (sums === undefined) continue
      sums.assigned += row.assigned
      sums.exposed += row.exposed
      sums.converters += row.converters
    }
    const isLast = index === named.length - 1
    const epochs = weighings.flatMap(({ since, arms }, epoch): ArmCounts[][] => {
      if (epoch > 0 && since > day && !isLast) return []
      return [
        versions.map((version) => ({
          version,
          weight: arms.find((arm) => arm.version === version)?.weight ?? 0,
          ...(upTo[epoch]?.get(version) ?? { assigned: 0, exposed: 0, converters: 0 }),
        })),
      ]
    })
    return { day, evidence: { ...plan, epochs, days: isLast ? days : Math.min(index + 1, days) } }
  })
}
