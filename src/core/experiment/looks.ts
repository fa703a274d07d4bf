import { ascending, group } from 'd3'
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
  return countsByGoal(rows)(goal)
}

/** The same for several goals: who came is added up once. */
export function countsByGoal(rows: readonly CountedRow[]): (goal: GoalId) => DayCounts[] {
  const ofGoal = group(rows, ({ goal }) => goal)
  const cellOf = cells()
  const came = inTurn(added([], new Map(), ofGoal.get('') ?? [], cellOf))
  const places = new Map(came.map((counts, at) => [cellOf(counts), at]))
  return (goal) => {
    const own = ofGoal.get(goal) ?? []
    const all = added(came, places, own, cellOf)
    // A day that was taken back to nothing, since what was counted on it happened on another, is no day.
    return (all.length === came.length ? all : inTurn(all)).filter((counts) => sums.some((sum) => counts[sum] !== 0))
  }
}

type Cell = Pick<DayCounts, 'day' | 'epoch' | 'version'>

/** A number for each day, epoch and version: rows are looked up by it thousands of times, and words would be held letter by letter. */
function cells(): (of: Cell) => number {
  const [days, versions] = [new Map<string, number>(), new Map<string, number>()]
  const numbered = (known: Map<string, number>, name: string) => {
    const before = known.get(name)
    if (before !== undefined) return before
    known.set(name, known.size)
    return known.size - 1
  }
  return ({ day, epoch, version }) => (epoch * MOST_DAYS + numbered(days, day)) * MOST_VERSIONS + numbered(versions, version)
}
const [MOST_DAYS, MOST_VERSIONS] = [10_000, 1000]

/** Counts and what rows add to them, that of which there were none yet at the end. */
function added(
  to: readonly DayCounts[],
  places: ReadonlyMap<number, number>,
  rows: readonly DayCounts[],
  cellOf: (of: Cell) => number,
): DayCounts[] {
  const [all, more] = [[...to], new Map<number, number>()]
  for (const row of rows) {
    const cell = cellOf(row)
    const at = places.get(cell) ?? more.get(cell)
    const before = at === undefined ? undefined : all[at]
    if (at === undefined || before === undefined) more.set(cell, all.push(asCounts(row)) - 1)
    else all[at] = together(before, row)
  }
  return all
}

const inTurn = (counts: readonly DayCounts[]) =>
  [...counts].sort(
    (one, other) => ascending(one.day, other.day) || ascending(one.epoch, other.epoch) || ascending(one.version, other.version),
  )

function asCounts(row: DayCounts): DayCounts {
  const { epoch, version, day, assigned, exposed, converters, worth, worthSquared, visits, visitsSquared, visitsWorth } = row
  return { epoch, version, day, assigned, exposed, converters, worth, worthSquared, visits, visitsSquared, visitsWorth }
}

/** What both counted, of the version, epoch and day of the first. */
export const together = (one: DayCounts, other: DayCounts): DayCounts => ({
  epoch: one.epoch,
  version: one.version,
  day: one.day,
  assigned: one.assigned + other.assigned,
  exposed: one.exposed + other.exposed,
  converters: one.converters + other.converters,
  worth: one.worth + other.worth,
  worthSquared: one.worthSquared + other.worthSquared,
  visits: one.visits + other.visits,
  visitsSquared: one.visitsSquared + other.visitsSquared,
  visitsWorth: one.visitsWorth + other.visitsWorth,
})

/** Of a version in an epoch, before anything is added to it. */
export const nothingCounted = (epoch: number, version: VersionId): DayCounts => ({
  epoch,
  version,
  day: '',
  assigned: 0,
  exposed: 0,
  converters: 0,
  worth: 0,
  worthSquared: 0,
  visits: 0,
  visitsSquared: 0,
  visitsWorth: 0,
})

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
  { days, smallestEffect, plannedTotal }: Pick<Evidence, 'days' | 'smallestEffect' | 'plannedTotal'>,
): Look[] {
  const versions = [...new Set(weighings.flatMap(({ arms }) => arms.map(({ version }) => version)))]
  const upTo = weighings.map(({ since, arms }) => ({
    since,
    arms: versions.map((version) => {
      const weight = arms.find((arm) => arm.version === version)?.weight ?? 0
      return { version, weight, assigned: 0, exposed: 0, converters: 0 }
    }),
  }))
  const places = new Map(versions.map((version, at) => [version, at]))
  const byDay = new Map<string, DayCounts[]>()
  for (const row of counts) {
    const own = byDay.get(row.day)
    if (own === undefined) byDay.set(row.day, [row])
    else own.push(row)
  }
  const named = [...byDay.keys()].sort(ascending)
  return named.map((day, index) => {
    for (const row of byDay.get(day) ?? []) {
      const arm = upTo[row.epoch - 1]?.arms[places.get(row.version) ?? -1]
      if (arm === undefined) continue
      arm.assigned += row.assigned
      arm.exposed += row.exposed
      arm.converters += row.converters
    }
    const isLast = index === named.length - 1
    const known = upTo.filter(({ since }, epoch) => epoch === 0 || since <= day || isLast)
    const epochs = known.map(({ arms }) => arms.map(asTheyAre))
    return { day, evidence: { epochs, days: isLast ? days : Math.min(index + 1, days), smallestEffect, plannedTotal } }
  })
}

/** Written out, since it is done for every version of every day. */
const asTheyAre = ({ version, weight, assigned, exposed, converters }: ArmCounts): ArmCounts => ({
  version,
  weight,
  assigned,
  exposed,
  converters,
})
