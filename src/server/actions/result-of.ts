import { group } from 'd3'
import type { Knex } from 'knex'
import type { ResultView } from '@/contract/contract'
import {
  alarmsOf,
  armsEver,
  besideWords,
  effectsByAge,
  RECENT_DAYS,
  resultsOfRound,
  steadiedWords,
  type Beside,
  type BesideCounts,
  type CountedRow,
  type DayCounts,
  type Names,
  type RoundCounts,
  type RoundResult,
  type VariantResult,
  type WorthRow,
} from '@/core/experiment'
import type { GoalId, RoundId } from '@/core/ids'
import type { Span } from '@/core/ledger'
import type { Calendar } from '@/core/time'
import { openSpans } from '../ledger/rules'
import { doingsOf } from '../stores/doings'
import { planOf } from '../stores/rehearsals'
import { besideOf, earlierOf, exposedByDevice, rowsOfRounds, worthsOf } from '../stores/results'
import { calendarIn, readSettings } from '../stores/settings'
import { roundsBefore, roundsById, type RoundRow } from '../stores/tests'
import { speeds as paints } from '@/core/ledger'
import { slowerIn } from './behaviour'
import { namesFor } from './test-facts'

const DAY = 86_400_000
export interface Read extends RoundResult {
  readonly view: ResultView
}

/** A round’s result for one goal and one crowd, with its history by day. `null` when the round counts no such goal. */
export async function resultOf(db: Knex, round: RoundRow, crowd: number, goal: GoalId | null): Promise<Read | null> {
  return (await resultsOf(db, round, crowd, [goal]))[0] ?? null
}

/** The same for several goals, `null` being the one that decides: what they share is asked for and read once. */
export async function resultsOf(db: Knex, round: RoundRow, crowd: number, goals: readonly (GoalId | null)[]): Promise<Read[]> {
  const { id, plannedTotal } = round.snapshot
  const [found, classes, earlier, beside] = await Promise.all([
    rowsOfRounds(db, crowd, [id]),
    worthsOf(db, crowd, id),
    earlierOf(db, crowd, id),
    besideOf(db, crowd, id),
  ])
  const known = await roundsById(db, [...new Set(beside.map(({ other }) => other))])
  // Rules of one part are counted together as well: those are the same visitors, and no test beside it.
  const others = known.filter(({ personalization }) => personalization === null || personalization !== round.personalization)
  const rows = found.get(id) ?? []
  // A rehearsal reads by its own plan and the weights of its time, not by those of the live test.
  const rehearsed = crowd === 0 ? null : await planOf(db, crowd)
  const { currency, timeZone } = await readSettings(db)
  const of =
    rehearsed === null
      ? round
      : {
          ...round,
          epochs: [round.epochs.findLast(({ since }) => since <= rehearsed.at) ?? round.epochs[0]].flatMap((one) => one ?? []),
        }
  const speeds = await doingsOf(db, crowd, id, paints)
  const slower = slowerIn(speeds, of)
  const calendar = calendarIn(timeZone)
  const now = new Date()
  const reads = readGoals(
    of,
    { crowd, goals },
    {
      rows,
      classes,
      ...{ earlier, others, speeds, beside: beside.filter(({ other }) => others.some(({ snapshot }) => snapshot.id === other)) },
      plannedTotal: rehearsed?.visitors ?? plannedTotal,
      currency,
      calendar,
      now,
    },
  )
  const [first] = reads
  if (first === undefined) return []
  const days = crowd === 0 ? wholeDays(openSpans(round), calendar, now) : []
  // Only where something is off it is asked with whom. Who was given what, and who saw it, is the same for every goal.
  const byDevice = first.result.split.trusted ? [] : await exposedByDevice(db, crowd, id)
  const { snapshot } = round
  const alarms = alarmsOf(
    {
      arms: first.view.rates,
      split: first.result.split,
      days: countedOn(rows, days),
      slower: slower.flatMap(({ versions: of }) => of),
      byDevice,
    },
    namesFor(snapshot.design, snapshot.versions, snapshot.goals),
  )
  const reached = await doingsOf(db, crowd, id, ['after'])
  const today =
    crowd === 0
      ? calendar.dayOf(round.ended_at ?? now)
      : (rows
          .map(({ day }) => day)
          .sort()
          .at(-1) ?? '')
  const versions = first.view.rates.map(({ version }) => version)
  const agesOf = effectsByAge({ reached, rows, versions, today })
  return reads.map((read) => {
    const ages = agesOf(read.goal.id).map(({ lifts, ...age }) => ({
      ...age,
      lifts: lifts.map(({ version, lift, interval }) => ({ version, lift, interval: pair(interval) })),
    }))
    return { ...read, view: { ...read.view, slower, alarms, ages } }
  })
}

/** No more rounds than can be told apart in a picture. */
const MOST_BEFORE = 5

/** How evidence grew in the rounds before one, oldest first; a round that counted no such goal has none. */
export async function evidenceBefore(db: Knex, id: RoundId, goal: GoalId) {
  const rounds = await roundsBefore(db, id, MOST_BEFORE)
  const rows = await rowsOfRounds(
    db,
    0,
    rounds.map(({ snapshot }) => snapshot.id),
  )
  const { currency, timeZone } = await readSettings(db)
  const by = { currency, calendar: calendarIn(timeZone), now: new Date() }
  return rounds.toReversed().flatMap((round) => {
    const { id: own, number, plannedTotal } = round.snapshot
    const read = readRound(round, { crowd: 0, goal }, { rows: rows.get(own) ?? [], plannedTotal, ...by })
    return read === null ? [] : [{ number, series: read.result.split.trusted ? read.view.overTime : [] }]
  })
}

/** Days of which the whole lies in one of these spans. */
function wholeDays(spans: readonly Span[], calendar: Calendar, now: Date): string[] {
  return spans.flatMap(({ from, to }) => {
    const end = to ?? now
    const many = Math.min(MOST_DAYS, Math.ceil((end.getTime() - from.getTime()) / DAY) + 1)
    return calendar.lastDays(many, end).filter((day) => calendar.beginOf(day) >= from && calendar.endOf(day) <= end)
  })
}

/** Longer than a round goes on. */
const MOST_DAYS = 400

/** What each of these days counted; nothing is something, too. */
function countedOn(rows: readonly CountedRow[], days: readonly string[]) {
  const came = group(
    rows.filter(({ goal }) => goal === ''),
    ({ day }) => day,
  )
  return days.map((day) => ({ day, assigned: sum(came.get(day), 'assigned'), exposed: sum(came.get(day), 'exposed') }))
}

interface By {
  readonly rows: readonly CountedRow[]
  readonly classes?: readonly WorthRow[]
  readonly earlier?: RoundCounts['earlier']
  readonly beside?: readonly BesideCounts[]
  readonly speeds?: RoundCounts['speeds']
  /** The rounds that `beside` is of. */
  readonly others?: readonly RoundRow[]
  readonly plannedTotal: number
  readonly currency: string
  readonly calendar: Calendar
  readonly now: Date
}

/** The same from what has been read, for many rounds at once. */
export function readRound(round: RoundRow, { crowd, goal }: { crowd: number; goal: GoalId | null }, by: By): Read | null {
  return readGoals(round, { crowd, goals: [goal] }, by)[0] ?? null
}

function readGoals(
  round: RoundRow,
  { crowd, goals }: { crowd: number; goals: readonly (GoalId | null)[] },
  { rows, classes = [], earlier = [], beside = [], others = [], speeds = [], plannedTotal, currency, calendar, now }: By,
): Read[] {
  const { snapshot, epochs } = round
  const elapsed = openSpans(round).reduce((sum, { from, to }) => sum + ((to ?? now).getTime() - from.getTime()) / DAY, 0)
  const counted = new Set(rows.map(({ day }) => day))
  const began = calendar.dayOf(round.started_at)
  const names = namesFor(snapshot.design, snapshot.versions, snapshot.goals)
  const found = resultsOfRound(
    {
      round: snapshot,
      weighings: epochs.map(({ since, arms }) => ({ since: calendar.dayOf(since), arms })),
      ...{ rows, classes, earlier, beside, speeds, everyArm: armsEver(epochs) },
      days: crowd === 0 ? elapsed : counted.size,
      plannedTotal,
      manner: round.personalization === null ? 'chance' : 'rule',
      going: round.ended_at === null,
      // The day on which it began and today are no full ones.
      fullDays:
        crowd === 0
          ? calendar.lastDays(RECENT_DAYS + 1, now).filter((day, index) => index < RECENT_DAYS && day > began)
          : [...counted].sort().slice(-RECENT_DAYS),
    },
    goals,
    names,
  )
  const of = { round, others, crowd, currency, elapsed, days: counted.size }
  return found.map((one) => ({ ...one, view: viewOf(one, of) }))
}

function viewOf(
  found: RoundResult,
  {
    round,
    others,
    ...of
  }: { round: RoundRow; others: readonly RoundRow[]; crowd: number; currency: string; elapsed: number; days: number },
): ResultView {
  const { crowd, currency, elapsed, days } = of
  const { snapshot, epochs } = round
  const { goal, result, guards } = found
  const names = namesFor(snapshot.design, snapshot.versions, snapshot.goals)
  return {
    round: snapshot.id,
    roundNumber: snapshot.number,
    crowd,
    goal: { id: goal.id, name: goal.name, primary: found.decides },
    sentence: found.sentence,
    rates: result.rates.map((rate) => ({
      ...rate,
      interval: pair(rate.interval),
      name: names.version(rate.version),
      assigned: found.assigned.get(rate.version) ?? 0,
    })),
    variants: result.variants.map((variant) => ({
      version: variant.version,
      name: names.version(variant.version),
      reading: variant.reading,
      words: found.words.get(variant.version) ?? '',
      lift: variant.lift,
      liftInterval: pair(variant.liftInterval),
      pValue: variant.pValue,
      once:
        variant.once === null
          ? null
          : { lift: pair(variant.once.lift), difference: [...variant.once.difference], pValue: variant.once.pValue },
    })),
    chances: found.chances?.map((one) => ({ ...one, name: names.version(one.version) })) ?? null,
    waiting: found.waiting,
    split: result.split,
    guards: guards.map(({ of: guarded, name, margin, variants }) => ({
      ...{ of: guarded, name, margin },
      variants: variants.map((one) => ({ ...one, liftInterval: pair(one.liftInterval) })),
    })),
    worth: {
      in: goal.worthIn,
      currency,
      cap: found.worth.cap,
      arms: found.worth.arms.map(({ difference, visitDifference, ...rest }) => ({
        ...rest,
        difference: pair(difference),
        visitDifference: pair(visitDifference),
      })),
    },
    funnel:
      found.funnel === null
        ? null
        : { steps: [...found.funnel.steps], passed: found.funnel.passed.map((one) => ({ ...one, counts: [...one.counts] })) },
    ...{ slower: [], alarms: [], ages: [] },
    steadied:
      found.steadied === null
        ? null
        : {
            words: steadiedWords(found.steadied),
            variants: found.steadied.map(({ version, lift, liftInterval }) => ({
              version,
              lift,
              liftInterval: pair(liftInterval),
            })),
          },
    parts: partsView(found.parts, names),
    beside: found.beside.map((one) => besideView(one, names, others)),
    smallestEffect: snapshot.design.smallestEffect,
    days: crowd === 0 ? elapsed : days,
    epochs: epochs.map(({ since, arms, because }) => ({
      since: since.toISOString(),
      because,
      arms: arms.map(({ version, weight }) => ({ version, name: names.version(version), weight })),
    })),
    ...overDays(found),
  }
}

/** Where each variant stood day by day, and who came on each. */
function overDays({ result, history, counts }: RoundResult): Pick<ResultView, 'overTime' | 'arrivals'> {
  const byDay = group(
    counts,
    ({ day }) => day,
    ({ version }) => version,
  )
  return {
    overTime: result.variants.map(({ version }) => ({
      version,
      points: history.flatMap(({ day, result: at }) =>
        pointOf(
          day,
          at.variants.find((one) => one.version === version),
        ),
      ),
    })),
    arrivals: history.map(({ day }) => ({
      day,
      counts: result.rates.map(({ version }) => {
        const own = byDay.get(day)?.get(version)
        return { version, exposed: sum(own, 'exposed'), converters: sum(own, 'converters') }
      }),
    })),
  }
}

function partsView(parts: RoundResult['parts'], names: Names): ResultView['parts'] {
  if (parts === null) return null
  return {
    levels: parts.levels.map((level) => ({ ...level, name: names.version(level.version), interval: pair(level.interval) })),
    pairs: parts.pairs.map(({ versions: [one, other], ...found }) => ({
      ...found,
      names: [names.version(one), names.version(other)],
    })),
  }
}

function besideView(found: Beside, names: Names, others: readonly RoundRow[]): ResultView['beside'][number] {
  const other = others.find(({ snapshot }) => snapshot.id === found.other)?.snapshot
  const named = other === undefined ? names : namesFor(other.design, other.versions, other.goals)
  const name = other?.design.name ?? 'a test that is gone'
  const { visitors, together } = found
  return { round: found.other, name, visitors, words: besideWords(found, name, names, named), differs: together.length > 0 }
}

function sum<Row extends DayCounts>(rows: readonly Row[] = [], of: 'assigned' | 'exposed' | 'converters'): number {
  return rows.reduce((total, row) => total + row[of], 0)
}

/** A day on the line; none before anything can be said. */
function pointOf(day: string, variant: VariantResult | undefined): ResultView['overTime'][number]['points'] {
  if (variant?.liftInterval == null || variant.lift === null) return []
  const [lower, upper] = variant.liftInterval
  return [{ day, lift: variant.lift, lower, upper, cleared: variant.reading === 'better' || variant.reading === 'worse' }]
}

function pair(interval: readonly [number, number] | null): [number, number] | null {
  return interval === null ? null : [interval[0], interval[1]]
}
