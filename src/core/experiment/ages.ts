import { rollup } from 'd3'
import { ORIGINAL } from '../decide'
import type { GoalId, VersionId } from '../ids'
import { katz, type Interval, type Outcome } from '../stats'
import type { DoingRow } from './behaviour'
import type { CountedRow } from './looks'

/** Stretches of days since somebody first saw their version; the first is the day of 24 hours that begins then. */
const stretches: readonly (readonly [from: number, to: number])[] = [
  [0, 0],
  [1, 1],
  [2, 3],
  [4, 7],
  [8, 14],
  [15, 28],
]

export interface AgeEffect {
  readonly from: number
  readonly to: number
  readonly lifts: readonly {
    readonly version: VersionId
    readonly converters: number
    /** `null` where too few reached the goal so late. */
    readonly lift: number | null
    readonly interval: Interval | null
  }[]
}

const LEVEL = 0.95
const ENOUGH = 10

/**
 * What a variant adds by the days since visitors first saw it: an effect that is there on the first day and gone later was
 * its novelty. Of each stretch the visitors count who have been in it, a day each, so that those who came yesterday do not
 * make a later week look poor. To explore, not to decide.
 *
 * @param reached rows of “after”: a goal with the days from the first sight until it was first reached
 * @param rows of the same round
 * @param today of the site's calendar
 * @returns of a goal; what all goals share is worked out once
 */
export function effectsByAge({
  reached,
  rows,
  versions,
  today,
}: {
  readonly reached: readonly DoingRow[]
  readonly rows: readonly CountedRow[]
  readonly versions: readonly VersionId[]
  readonly today: string
}): (goal: GoalId) => AgeEffect[] {
  const seen = rows.filter(({ goal }) => goal === '')
  const since = new Map([...new Set(seen.map(({ day }) => day))].map((day) => [day, daysBetween(day, today)]))
  const came = rollup(
    seen,
    (of) => stretches.map(([from, to]) => daysIn(of, since, from, to)),
    ({ version }) => version,
  )
  const after = reachedIn(reached)
  return (goal) => {
    const own = after.get(goal)
    const found = stretches.map(([from, to], at) => {
      const count = (version: VersionId) => ({
        n: came.get(version)?.[at] ?? 0,
        conversions: own?.get(version)?.[at] ?? 0,
      })
      return { from, to, lifts: liftsOver(versions, count) }
    })
    return found.filter(({ lifts }) => lifts.some(({ lift }) => lift !== null))
  }
}

/** For how many days of a stretch these visitors have been, a day of each. */
function daysIn(came: readonly CountedRow[], since: ReadonlyMap<string, number>, from: number, to: number): number {
  return came.reduce((sum, { day, exposed }) => sum + exposed * Math.max(0, Math.min(to, since.get(day) ?? -1) - from + 1), 0)
}

/** Of each goal and version, how many reached it in each of the stretches. */
function reachedIn(reached: readonly DoingRow[]): Map<string, Map<VersionId, number[]>> {
  const found = new Map<string, Map<VersionId, number[]>>()
  for (const { doing, what, version, visitors } of reached) {
    if (doing !== 'after') continue
    const space = what.indexOf(' ')
    const [goal, age] = [what.slice(0, space), space < 0 ? NaN : Number(what.slice(space + 1))]
    const at = stretches.findIndex(([from, to]) => age >= from && age <= to)
    if (at < 0) continue
    const versions = found.get(goal) ?? new Map<VersionId, number[]>()
    const counts = versions.get(version) ?? stretches.map(() => 0)
    counts[at] = (counts[at] ?? 0) + visitors
    found.set(goal, versions.set(version, counts))
  }
  return found
}

function liftsOver(versions: readonly VersionId[], count: (version: VersionId) => Outcome): AgeEffect['lifts'] {
  const original = count(ORIGINAL)
  return versions
    .filter((version) => version !== ORIGINAL)
    .map((version) => {
      const own = count(version)
      const isEnough = Math.min(own.conversions, original.conversions) >= ENOUGH && original.n > 0 && own.n > 0
      const lift = isEnough ? own.conversions / own.n / (original.conversions / original.n) - 1 : null
      return { version, converters: own.conversions, lift, interval: isEnough ? katz(original, own, LEVEL) : null }
    })
}

const daysBetween = (one: string, other: string) => Math.round((Date.parse(other) - Date.parse(one)) / 86_400_000)
