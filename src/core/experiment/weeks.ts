import { Temporal } from 'temporal-polyfill'

/** A time in which a test ran, runs, or is planned to run; `to` is `null` where nobody has said when it ends. */
export interface Run {
  readonly from: Date
  readonly to: Date | null
  readonly isPlanned: boolean
}

/** The Monday of a day’s week (ISO 8601). */
export function mondayOf(day: string): string {
  const date = Temporal.PlainDate.from(day)
  return date.subtract({ days: date.dayOfWeek - 1 }).toString()
}

/** So many Mondays, from one on. */
export function weeksFrom(monday: string, many: number): string[] {
  const first = Temporal.PlainDate.from(monday)
  return Array.from({ length: many }, (_, week) => first.add({ weeks: week }).toString())
}

/**
 * Where a run lies in a window: its beginning and end as shares of the window’s width, and whether it goes beyond either
 * side; `null` where it lies outside.
 */
export function placeIn(
  window: { readonly from: Date; readonly to: Date },
  { from, to }: Run,
): { readonly left: number; readonly right: number; readonly began: boolean; readonly goesOn: boolean } | null {
  const [begin, end] = [window.from.getTime(), window.to.getTime()]
  const last = to?.getTime() ?? Infinity
  if (from.getTime() >= end || last <= begin) return null
  const share = (at: number) => Math.min(1, Math.max(0, (at - begin) / (end - begin)))
  return { left: share(from.getTime()), right: share(last), began: from.getTime() < begin, goesOn: last > end }
}

/** How many of these run at the same time at most, within a window. */
export function mostAtOnce(window: { readonly from: Date; readonly to: Date }, runs: readonly Run[]): number {
  const inside = runs.filter((run) => placeIn(window, run) !== null)
  const moments = inside.map(({ from }) => Math.max(from.getTime(), window.from.getTime()))
  return Math.max(
    0,
    ...moments.map((at) => inside.filter(({ from, to }) => from.getTime() <= at && (to?.getTime() ?? Infinity) > at).length),
  )
}
