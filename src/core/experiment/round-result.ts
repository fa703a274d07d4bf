import { ORIGINAL } from '../decide'
import { stepId, type Goal } from '../goals'
import type { GoalId, VersionId } from '../ids'
import { percent } from '../numbers'
import { adjusted } from '../stats'
import { goalsOf, type DesignArm, type Round } from './design'
import { besideOthers, type Beside, type BesideCounts } from './beside'
import { steadied, type EarlierCounts, type SteadiedVariant } from './earlier'
import { readGuard, type GuardResult } from './guard'
import {
  convertersOf,
  countsByGoal,
  looksOf,
  nothingCounted,
  together,
  type CountedRow,
  type DayCounts,
  type Look,
  type Weighing,
} from './looks'
import type { Names } from './names'
import type { DoingRow } from './behaviour'
import { readSpeed } from './speed-guard'
import { effectsOfParts, type PartsResult } from './part-effects'
import {
  ENOUGH_CONVERTERS,
  leader,
  LEVEL,
  mixtures,
  readThrough,
  type MixtureOf,
  type Reading,
  type Result,
  type VariantResult,
} from './reading'
import { chancesOf } from './schedule'
import { plannedEffect, visitorsToSee, waitingFor, waitingSentence, type Waiting } from './waiting'
import { guardSentence, sentence, slowSentence, variantSentence, type Manner, type Telling } from './words'
import { worthUpTo } from '../ledger'
import { readWorth, type WorthClass, type WorthReading } from './worth'

/** All that a round is read by. */
/** Visitors of one version and epoch who brought about as much of one goal (`worthClass`). */
export type WorthRow = Omit<WorthClass, 'upTo'> & {
  readonly epoch: number
  readonly goal: string
  readonly version: VersionId
  readonly class: number
}

export interface RoundCounts {
  /** As it draws now. */
  readonly round: Round
  readonly weighings: readonly Weighing[]
  readonly rows: readonly CountedRow[]
  /** Who brought how much; none where only the rates are asked for. */
  readonly classes?: readonly WorthRow[]
  /** Of each goal, who had done what before; and who had which version of another round. */
  readonly earlier?: readonly (EarlierCounts & { readonly goal: string })[]
  readonly beside?: readonly BesideCounts[]
  /** Every arm that was ever drawn, with what its parts show; those of the design where nothing is said. */
  readonly everyArm?: readonly DesignArm[]
  /** How fast the first pages with each version were. */
  readonly speeds?: readonly DoingRow[]
  /** That have passed, pauses left out. */
  readonly days: number
  readonly plannedTotal: number
  /** A rule’s, or a test’s where nothing is said. */
  readonly manner?: Manner
  /** Whether visitors are still being counted. */
  readonly going: boolean
  /** The last full days of the site’s calendar on which the round could have been seen, oldest first. */
  readonly fullDays: readonly string[]
}

export interface RoundResult {
  readonly goal: Goal
  /** The goal that decides, or one that is looked at beside it. */
  readonly decides: boolean
  readonly result: Result
  /** Where it stood at the end of each day, oldest first. */
  readonly history: readonly { readonly day: string; readonly result: Result }[]
  readonly sentence: string
  readonly words: ReadonlyMap<VersionId, string>
  readonly waiting: Waiting
  readonly guards: readonly Guard[]
  readonly worth: WorthReading
  /** With what visitors had done before taken out; `null` where nothing is known of it, or the split is not to be trusted. */
  readonly steadied: readonly SteadiedVariant[] | null
  /** Of a test of combinations, which part does what; `null` of any other, or where the split is not to be trusted. */
  readonly parts: PartsResult | null
  /** Of the goal that decides: whether other tests change what this one does. */
  readonly beside: readonly Beside[]
  /** `null` where too little is known, or the split is not to be trusted. */
  readonly chances: ReturnType<typeof chancesOf>
  readonly counts: readonly DayCounts[]
  readonly assigned: ReadonlyMap<VersionId, number>
  /** Of a funnel, how many of each version passed each step. */
  readonly funnel: {
    readonly steps: readonly string[]
    readonly passed: readonly { version: VersionId; counts: number[] }[]
  } | null
}

/** What must not get worse: a goal, or how fast the page is painted. */
export interface Guard {
  readonly of: GoalId | typeof SPEED
  readonly name: string
  readonly margin: number
  readonly variants: readonly GuardVariant[]
}
export const SPEED = 'speed'

type GuardVariant = GuardResult & Pick<VariantResult, 'lift' | 'liftInterval'>

/**
 * The result of a round for one goal.
 *
 * @param wanted the goal that decides where nothing is said
 * @returns `null` where the round counts no such goal
 */
export function resultOfRound(of: RoundCounts, wanted: GoalId | null, names: Names): RoundResult | null {
  return resultFor(of, wanted, names, readerOf(of))
}

/** The same for several goals: what each has to know of the others is read once. */
export function resultsOfRound(of: RoundCounts, wanted: readonly (GoalId | null)[], names: Names): RoundResult[] {
  const goalRead = readerOf(of)
  return wanted.flatMap((goal) => resultFor(of, goal, names, goalRead) ?? [])
}

interface GoalRead {
  readonly counts: readonly DayCounts[]
  readonly looks: readonly Look[]
  /** At each of these looks; before anything is counted, one at nothing. */
  readonly results: readonly Result[]
  readonly last: Result
}
type GoalReader = (goal: GoalId) => GoalRead

/** Each goal is read once, however many results it is a part of. */
function readerOf(of: RoundCounts): GoalReader {
  const known = new Map<GoalId, GoalRead>()
  const [countsOf, mixtureOf] = [countsByGoal(of.rows), mixtures()]
  return (goal) => {
    const before = known.get(goal)
    if (before !== undefined) return before
    const counts = countsOf(goal)
    const looks = looksFor(of, counts)
    const results = readAll(of, looks, mixtureOf)
    const last = results.at(-1)
    if (last === undefined) throw new Error('a round without a look')
    const found = { counts, looks, results, last }
    known.set(goal, found)
    return found
  }
}

function resultFor(of: RoundCounts, wanted: GoalId | null, names: Names, goalRead: GoalReader): RoundResult | null {
  const { design, goals } = of.round
  const goal = goals.find(({ id }) => id === (wanted ?? design.primary))
  if (goal === undefined) return null
  const decides = goal.id === design.primary
  const { counts, looks, results: read, last } = goalRead(goal.id)
  const result = decides ? last : watchedResult(last, goal.id, of, goalRead)
  const waiting = waitingOf(of, result, looks, counts)
  const guards = decides ? guardsOf(of, goalRead) : []
  const broken = guards.map(({ of: guarded, name, margin, variants }) => {
    const worse = variants.filter(({ reading }) => reading === 'broken').map(({ version }) => version)
    return (guarded === SPEED ? slowSentence : guardSentence)(name, margin, worse, names)
  })
  const telling: Telling = {
    ...{ goal: goal.name, names, going: of.going, decides, manner: of.manner ?? 'chance' },
    waiting: waitingSentence(waiting, percent(design.smallestEffect)),
  }
  const evidence = looks.at(-1)?.evidence
  const first = evidence?.epochs ?? []
  const { trusted } = result.split
  return {
    ...{ goal, decides, result, waiting, guards, counts },
    history: looks.map(({ day }, index) => ({ day, result: read[index] ?? result })),
    sentence: [sentence(result, telling), ...broken].filter(Boolean).join(' '),
    words: new Map(result.variants.map((variant) => [variant.version, variantSentence(variant, result, telling)])),
    chances: chancesNow(last, looks.at(-1)),
    steadied:
      evidence === undefined || !trusted
        ? null
        : steadied(
            evidence,
            (of.earlier ?? []).filter((row) => row.goal === goal.id),
          ),
    parts:
      evidence === undefined || !trusted
        ? null
        : effectsOfParts({ ...design, arms: [...(of.everyArm ?? design.arms)] }, evidence),
    beside: decides && trusted ? besideOthers(of.beside ?? []) : [],
    worth: readWorth(worthCounts(of, goal.id, counts), of.plannedTotal, trusted),
    assigned: new Map(
      result.rates.map(({ version }, index) => [version, first.reduce((sum, arms) => sum + (arms[index]?.assigned ?? 0), 0)]),
    ),
    funnel: funnelOf(of, goal, result),
  }
}

function chancesNow({ split }: Result, look: Look | undefined): RoundResult['chances'] {
  return look === undefined || !split.trusted ? null : chancesOf(look.evidence)
}

/** The reading of the test as a whole: that of the variant that its sentence names first. */
export function wholeReading(result: Result): Reading {
  return leadOf(result)?.reading ?? 'tooEarly'
}

function leadOf(result: Result): VariantResult | undefined {
  return leader(result) ?? result.variants.find(({ isOff }) => !isOff) ?? result.variants[0]
}

function looksFor({ round, weighings, days, plannedTotal }: RoundCounts, counts: readonly DayCounts[]): Look[] {
  const { smallestEffect } = round.design
  return looksOf(weighings, counts, { days, smallestEffect, plannedTotal })
}

/** Before anything is counted there is one look at nothing. */
function readAll({ weighings, days, plannedTotal, round }: RoundCounts, looks: readonly Look[], mixtureOf: MixtureOf): Result[] {
  if (looks.length > 0)
    return readThrough(
      looks.map(({ evidence }) => evidence),
      mixtureOf,
    )
  const [first] = weighings
  const arms = (first?.arms ?? []).map((arm) => ({ ...arm, assigned: 0, exposed: 0, converters: 0 }))
  return readThrough([{ epochs: [arms], days, plannedTotal, smallestEffect: round.design.smallestEffect }])
}

/**
 * Of many goals that are watched some would be called by chance: what is called of one shares its chance of being wrong
 * with all of them (Benjamini and Hochberg).
 */
function watchedResult(result: Result, goal: GoalId, of: RoundCounts, goalRead: GoalReader): Result {
  const { design } = of.round
  const watched = goalsOf(design).filter((id) => id !== design.primary && !design.guards.some((guard) => guard.goal === id))
  if (!watched.includes(goal)) return result
  const asked = watched.flatMap((id) => {
    const { variants } = goalRead(id).last
    return variants.map(({ version, pValue }) => ({ id, version, pValue: pValue ?? 1 }))
  })
  const shared = adjusted(asked.map(({ pValue }) => pValue))
  const isClear = (version: VersionId) =>
    (shared[asked.findIndex((one) => one.id === goal && one.version === version)] ?? 1) < 1 - LEVEL
  return {
    ...result,
    variants: result.variants.map((variant) =>
      (variant.reading === 'better' || variant.reading === 'worse') && !isClear(variant.version)
        ? { ...variant, reading: 'tooEarly', wait: 'unclear' }
        : variant,
    ),
  }
}

/** How long until the difference worth having would be seen of the variant that is named first. */
function waitingOf(
  { round, plannedTotal, fullDays }: RoundCounts,
  result: Result,
  looks: readonly Look[],
  counts: readonly DayCounts[],
): Waiting {
  const lead = leadOf(result)
  const arms = looks.at(-1)?.evidence.epochs.at(-1) ?? []
  const [original, arm] = [arms[0], arms.find(({ version }) => version === lead?.version)]
  const base = result.rates[0]
  if (lead === undefined || original === undefined || arm === undefined || base?.rate == null) return { kind: 'unknown' }
  if (base.converters < ENOUGH_CONVERTERS || base.rate >= 1 || original.weight === 0 || arm.weight === 0)
    return { kind: 'unknown' }
  const { smallestEffect } = round.design
  const comparison = {
    baseRate: base.rate,
    effect: plannedEffect(base.rate, smallestEffect),
    alpha: (1 - LEVEL) / result.variants.length,
    ratio: arm.weight / original.weight,
  }
  const pair = new Set([ORIGINAL, arm.version])
  const came = new Map<string, number>()
  for (const { version, day, exposed } of counts) if (pair.has(version)) came.set(day, (came.get(day) ?? 0) + exposed)
  const recent = fullDays.map((day) => came.get(day) ?? 0)
  return waitingFor(visitorsToSee(comparison, plannedTotal), lead.total, recent)
}

/** The goals that must not get worse, read by the same sequence. */
function guardsOf(of: RoundCounts, goalRead: GoalReader): RoundResult['guards'] {
  const { design, goals } = of.round
  const guarded = design.guards.flatMap(({ goal: id, margin }): Guard[] => {
    const goal = goals.find((one) => one.id === id)
    if (goal === undefined) return []
    const result = goalRead(id).last
    const variants = readGuard(result, margin).map((guard) => {
      const found = result.variants.find(({ version }) => version === guard.version)
      return { ...guard, lift: found?.lift ?? null, liftInterval: found?.liftInterval ?? null }
    })
    return [{ of: id, name: goal.name, margin, variants }]
  })
  return design.slowest === null ? guarded : [...guarded, speedGuard(of, design.slowest)]
}

function speedGuard({ speeds = [], weighings, plannedTotal }: RoundCounts, margin: number): Guard {
  const versions = [...new Set(weighings.flatMap(({ arms }) => arms.map(({ version }) => version)))]
  const variants = readSpeed(speeds, versions, margin, plannedTotal).map(({ version, reading, longer, interval }) => ({
    ...{ version, reading, lift: longer, liftInterval: interval },
  }))
  return { of: SPEED, name: 'Time until the page is painted', margin, variants }
}

function worthCounts({ weighings, classes = [] }: RoundCounts, goal: GoalId, counts: readonly DayCounts[]) {
  const versions = [...new Set(weighings.flatMap(({ arms }) => arms.map(({ version }) => version)))]
  const places = new Map(versions.map((version, at) => [version, at]))
  const sums = weighings.map((_, epoch) => versions.map((version) => nothingCounted(epoch + 1, version)))
  for (const row of counts) {
    const [own, at] = [sums[row.epoch - 1], places.get(row.version)]
    const before = at === undefined ? undefined : own?.[at]
    if (own !== undefined && at !== undefined && before !== undefined) own[at] = together(before, row)
  }
  const own = classes.filter((row) => row.goal === goal)
  return weighings.map(({ arms }, epoch) =>
    (sums[epoch] ?? []).map((sum) => ({
      ...sum,
      weight: arms.find(({ version }) => version === sum.version)?.weight ?? 0,
      classes: own
        .filter((row) => row.version === sum.version && row.epoch === epoch + 1)
        .map((row) => ({ ...row, upTo: worthUpTo(row.class) })),
    })),
  )
}

function funnelOf({ round, rows }: RoundCounts, { id, wiring }: Goal, { rates }: Result): RoundResult['funnel'] {
  if (wiring.kind !== 'steps') return null
  const steps = wiring.goals.map((_, index) => stepId(id, index + 1))
  return {
    steps: wiring.goals.map((goal) => round.goals.find((one) => one.id === goal)?.name ?? 'a goal that is gone'),
    passed: rates.map(({ version }) => ({ version, counts: steps.map((step) => convertersOf(rows, step, version)) })),
  }
}
