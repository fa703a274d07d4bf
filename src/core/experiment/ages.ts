import { ORIGINAL } from '../decide'
import type { GoalId, VersionId } from '../ids'
import { katz, type Interval } from '../stats'
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
 */
export function effectByAge({
  reached,
  rows,
  versions,
  goal,
  today,
}: {
  readonly reached: readonly DoingRow[]
  readonly rows: readonly CountedRow[]
  readonly versions: readonly VersionId[]
  readonly goal: GoalId
  readonly today: string
}): AgeEffect[] {
  const came = rows.filter((row) => row.goal === '')
  const daysIn = (version: VersionId, from: number, to: number) =>
    came.reduce((sum, row) => {
      if (row.version !== version) return sum
      const since = daysBetween(row.day, today)
      return sum + row.exposed * Math.max(0, Math.min(to, since) - from + 1)
    }, 0)
  const convertersIn = (version: VersionId, from: number, to: number) =>
    reached.reduce((sum, row) => {
      const [of, age] = row.what.split(' ')
      return row.doing === 'after' && row.version === version && of === goal && Number(age) >= from && Number(age) <= to
        ? sum + row.visitors
        : sum
    }, 0)
  const found = stretches.map(([from, to]) => {
    const count = (version: VersionId) => ({ n: daysIn(version, from, to), conversions: convertersIn(version, from, to) })
    const original = count(ORIGINAL)
    return {
      ...{ from, to },
      lifts: versions
        .filter((version) => version !== ORIGINAL)
        .map((version) => {
          const own = count(version)
          const isEnough = Math.min(own.conversions, original.conversions) >= ENOUGH && original.n > 0 && own.n > 0
          const lift = isEnough ? own.conversions / own.n / (original.conversions / original.n) - 1 : null
          return { version, converters: own.conversions, lift, interval: isEnough ? katz(original, own, LEVEL) : null }
        }),
    }
  })
  return found.filter(({ lifts }) => lifts.some(({ lift }) => lift !== null))
}

const daysBetween = (one: string, other: string) => Math.round((Date.parse(other) - Date.parse(one)) / 86_400_000)
