import { ORIGINAL, type Segment } from '../decide'
import type { GoalId, VersionId } from '../ids'
import { SEGMENT, traits, type Trait } from '../ledger'
import { fitsAs, traitAsked } from './noted-segments'
import { bySegment, byNamedSegment, judged, sideOf, valuesOf, type Divided, type SegmentCounts } from './segments'

/** By what a result can be divided. */
export const divisions = ['goal', ...traits, 'segment', 'day', 'round', 'channel'] as const
export type Division = (typeof divisions)[number]

/** Those by which somebody else can be asked for at the same time: a visitor’s traits are known one at a time. */
export const narrowable = ['goal', 'day', 'round'] as const satisfies readonly Division[]
export const isNarrowable = (by: Division): boolean => narrowable.some((one) => one === by)

/** Visitors of one kind alone. */
export interface Narrowed {
  readonly trait: Trait | typeof SEGMENT
  readonly value: string
}

/** “device=phone”, as it stands in an address; of a segment its id. */
export const narrowedText = ({ trait, value }: Narrowed): string => `${trait}=${value}`

/** @returns `null` where it says nothing that is known */
export function narrowedIn(text: string): Narrowed | null {
  const cut = text.indexOf('=')
  const trait = [...traits, SEGMENT].find((one) => one === text.slice(0, Math.max(0, cut)))
  return trait === undefined || cut === text.length - 1 ? null : { trait: trait as Narrowed['trait'], value: text.slice(cut + 1) }
}

/** Under which trait and values those are counted whom a narrowing means; `null` where nothing of them is counted. */
export function countedAs(
  { trait, value }: Narrowed,
  counts: readonly SegmentCounts[],
  segments: readonly Segment[],
): { readonly trait: Narrowed['trait']; readonly values: readonly string[] } | null {
  if (trait !== SEGMENT) return { trait, values: [value] }
  const segment = segments.find(({ id }) => id === value)
  if (segment === undefined) return null
  const asked = traitAsked(segment.condition)
  if (asked === null) return { trait: SEGMENT, values: [fitsAs(segment).in] }
  const isOn = sideOf(segment)
  return { trait: asked, values: [...new Set(counts.filter((one) => isOn(one) === 'in').map((one) => one.value))] }
}

/** What was counted of visitors on a day, of a goal ('' for those who came). */
export interface CountedOn {
  readonly round: string
  readonly goal: string
  readonly version: VersionId
  readonly day: string
  readonly exposed: number
  readonly converters: number
}

/** A result by its goals, each in the order given. Goals are of the same visitors, so that nothing is asked of them together. */
export function byGoal(rows: readonly CountedOn[], goals: readonly GoalId[], versions: readonly VersionId[]): Divided {
  const counts = goals.flatMap((goal) => [
    ...versions.map((version) => ({ value: goal as string, version, exposed: 0, converters: 0 })),
    ...rows
      .filter((row) => row.goal === '' || row.goal === goal)
      .map((row) => ({ ...row, value: goal as string, exposed: row.goal === '' ? row.exposed : 0 })),
  ])
  return { values: valuesOf(counts, versions), differing: [], comparable: false }
}

/**
 * By day, the newest first: those who first saw a version on it, and those who reached the goal on it. Who comes on Monday may
 * buy on Tuesday, so that the two are counts and make no rate.
 */
export function byDay(rows: readonly CountedOn[], goal: GoalId, versions: readonly VersionId[]): Divided {
  const own = rows.filter((row) => row.goal === '' || row.goal === goal)
  const counts = own
    .map((row) => ({ ...row, value: row.day, exposed: row.goal === '' ? row.exposed : 0 }))
    .toSorted((one, other) => (one.value < other.value ? 1 : -1))
  const values = valuesOf(counts, versions).map(({ value, arms }) => ({
    value,
    arms: arms.map((arm) => ({ ...arm, rate: null, interval: null })),
  }))
  return { values, differing: [], comparable: false }
}

/** By round, in the order given. Each was drawn anew, so that whether they differ can be asked. */
export function byRound(
  rows: readonly CountedOn[],
  rounds: readonly string[],
  goal: GoalId,
  versions: readonly VersionId[],
): Divided {
  const counts = rounds.flatMap((round) =>
    rows
      .filter((row) => row.round === round && (row.goal === '' || row.goal === goal))
      .map((row) => ({ ...row, value: round, exposed: row.goal === '' ? row.exposed : 0 })),
  )
  const [found] = judged([{ values: valuesOf(counts, versions) }], versions)
  return found ?? { values: [], differing: [], comparable: false }
}

/** By a trait, or by all segments that have a name: `value` is the segment’s id, or that with “!” for all others. */
export function byKind(
  by: Trait | typeof SEGMENT,
  counts: readonly SegmentCounts[],
  versions: readonly VersionId[],
  segments: readonly Segment[],
): Divided {
  if (by !== SEGMENT)
    return bySegment(counts, versions).find(({ trait }) => trait === by) ?? { values: [], differing: [], comparable: false }
  const named = byNamedSegment(counts, versions, segments)
  return {
    values: named.flatMap(({ segment, values }) =>
      values.map(({ value, arms }) => ({ value: value === 'in' ? segment.id : `!${segment.id}`, arms })),
    ),
    differing: [...new Set(named.flatMap(({ differing }) => differing))],
    comparable: named.some(({ comparable }) => comparable),
  }
}

/** What is to be known before the numbers are looked at. */
export function divisionWords(
  by: Division,
  { values, differing, comparable }: Divided,
  nameOf: (version: VersionId) => string,
): string {
  switch (by) {
    case 'goal':
      return 'Each goal by the same visitors. Only the one that decides was chosen to decide.'
    case 'day':
      return 'Who first saw it on a day, and who reached the goal on it: who comes on one day may act on another, so these make no rate.'
    case 'channel':
      return 'On pages a visitor counts who saw it and reached the goal; of a newsletter, a reader who opened it and followed the link.'
    case 'round':
    case 'segment':
    case 'device':
    case 'source':
    case 'region':
    case 'language':
    case 'returning': {
      if (values.length < 2) return values.length === 0 ? 'Nothing is known of it yet.' : 'All of them are the same in this.'
      if (!comparable) return 'Too few reached the goal to say whether the versions work differently here.'
      if (differing.length === 0) return 'Nothing says that the versions work differently here.'
      const named = differing.filter((version) => version !== ORIGINAL).map((version) => `‘${nameOf(version)}’`)
      return `${named.join(' and ')} may work differently here: a question for another test.`
    }
    default:
      return by satisfies never
  }
}
