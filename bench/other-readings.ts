import { randomBinomial, randomLogNormal } from 'd3'
import { ORIGINAL, WHOLE } from '@/core/decide'
import {
  combinations,
  designSchema,
  effectsOfParts,
  readThrough,
  readWorth,
  resultOfRound,
  roundSchema,
  steadied,
  type CountedRow,
  type EarlierCounts,
  type Evidence,
  type WorthCounts,
} from '@/core/experiment'
import { goalSchema } from '@/core/goals'
import { worthClass, worthUpTo } from '@/core/ledger'
import { lotsOf, MadeUpTests, versionsOf } from '@/core/simulate'
import type { GoalId, VersionId } from '@/core/ids'

/*
 * What else a result says, each looked at on every one of so many days, with nothing to find but where it is said. Each answers
 * in how many of its tests it was ever wrong.
 */
const DAYS = 28
const [original, variant] = versionsOf(2) as [VersionId, VersionId]
const PLANNED = 2000 * DAYS

export interface Tried {
  readonly words: string
  readonly wrong: number
  readonly of: number
}

const everWrong = (words: string, runs: number, run: () => boolean): Tried => {
  let wrong = 0
  for (let at = 0; at < runs; at++) if (run()) wrong++
  return { words, wrong, of: runs }
}
const excludes = (interval: readonly [number, number] | null | undefined, truth: number) =>
  interval != null && (interval[0] > truth || interval[1] < truth)

/** The interval that is shown, what all looks agree on, beside the true lift. */
export function intervals(runs: number, seed: number): Tried[] {
  const made = new MadeUpTests(seed)
  return [0, 0.1, 0.3].map((lift) =>
    everWrong(`a true lift of ${lift * 100}% lies outside the interval that is shown`, runs, () =>
      readThrough(made.looks({ rates: [0.05, 0.05 * (1 + lift)], perDay: 2000, days: DAYS, plannedTotal: PLANNED })).some(
        ({ variants }) => excludes(variants[0]?.liftInterval, lift),
      ),
    ),
  )
}

/** Worth per visitor, of which one in a hundred buys and a few buy very much. */
export function worth(runs: number, seed: number): Tried[] {
  const lots = lotsOf(seed)
  const spent = randomLogNormal.source(lots)(3, 1.3)
  const binomial = randomBinomial.source(lots)
  return [
    everWrong('a difference in worth is called where there is none (1% buy, a long tail)', runs, () => {
      const counts = [original, variant].map((version) => ({ version, exposed: 0, spent: [] as number[] }))
      for (let day = 0; day < DAYS; day++) {
        for (const arm of counts) {
          arm.exposed += 1000
          for (let buyer = binomial(1000, 0.01)(); buyer > 0; buyer--) arm.spent.push(spent())
        }
        if (excludes(readWorth([counts.map(worthOf)], PLANNED, true).arms[1]?.difference, 0)) return true
      }
      return false
    }),
  ]
}

function worthOf({ version, exposed, spent }: { version: VersionId; exposed: number; spent: readonly number[] }): WorthCounts {
  const sum = (of: (value: number) => number) => spent.reduce((all, value) => all + of(value), 0)
  const classes = new Map<number, number[]>()
  for (const value of spent) classes.set(worthClass(value) ?? 0, [...(classes.get(worthClass(value) ?? 0) ?? []), value])
  return {
    ...{ version, weight: WHOLE / 2, exposed, converters: spent.length, worth: sum((value) => value) },
    ...{ worthSquared: sum((value) => value ** 2), visits: exposed, visitsSquared: exposed, visitsWorth: sum((value) => value) },
    classes: [...classes].map(([of, values]) => {
      const total = values.reduce((all, value) => all + value, 0)
      const squared = values.reduce((all, value) => all + value ** 2, 0)
      return {
        upTo: worthUpTo(of),
        visitors: values.length,
        worth: total,
        worthSquared: squared,
        visits: values.length,
        visitsWorth: total,
      }
    }),
  }
}

/** With what was done before taken out: three in ten had been here, and reach the goal eight times as often. */
export function before(runs: number, seed: number): Tried[] {
  const binomial = randomBinomial.source(lotsOf(seed))
  let [reduced, seen] = [0, 0]
  const tried = everWrong('something is called with what was done before taken out', runs, () => {
    const counts = [original, variant].flatMap((version) =>
      (['new', 'reached'] as const).map((past) => ({ epoch: 1, version, past, exposed: 0, converters: 0 })),
    )
    for (let day = 1; day <= DAYS; day++) {
      for (const one of counts) {
        const came = one.past === 'new' ? 700 : 300
        one.exposed += came
        one.converters += binomial(came, one.past === 'new' ? 0.05 : 0.4)()
      }
      const found = steadied(evidenceOf(counts, day), counts)?.[0]
      if (day === DAYS && found !== undefined) [reduced, seen] = [reduced + found.varianceReduction, seen + 1]
      if (excludes(found?.liftInterval, 0)) return true
    }
    return false
  })
  return [{ ...tried, words: `${tried.words}; the variance is ${((100 * reduced) / Math.max(1, seen)).toFixed(0)}% smaller` }]
}

function evidenceOf(counts: readonly EarlierCounts[], days: number): Evidence {
  const arms = [original, variant].map((version) => {
    const own = counts.filter((one) => one.version === version)
    const exposed = own.reduce((all, one) => all + one.exposed, 0)
    return {
      version,
      weight: WHOLE / 2,
      assigned: exposed,
      exposed,
      converters: own.reduce((all, one) => all + one.converters, 0),
    }
  })
  return { epochs: [arms], days, smallestEffect: 0.05, plannedTotal: PLANNED }
}

/** Which part does what, in six combinations that all do the same. */
export function parts(runs: number, seed: number): Tried[] {
  const made = new MadeUpTests(seed)
  const all = combinations([
    [ORIGINAL, 'a' as VersionId, 'b' as VersionId],
    [ORIGINAL, 'c' as VersionId],
  ])
  const design = designSchema.parse({
    ...{ name: 'Parts', problem: '', change: '', expected: '', document: 'home', node: 'title' },
    further: [{ document: 'home', node: 'button' }],
    arms: all.map((one, at) => ({ ...one, weight: at < 4 ? 1667 : 1666 })),
    ...{ share: WHOLE, primary: null, watched: [], smallestEffect: 0.05 },
  })
  const named = (looks: readonly Evidence[]) =>
    looks.map((look) => ({
      ...look,
      epochs: look.epochs.map((arms) => arms.map((arm, at) => ({ ...arm, version: all[at]?.version ?? ORIGINAL }))),
    }))
  return [
    everWrong('a part is said to do something in six combinations that all do the same', runs, () =>
      named(made.looks({ rates: all.map(() => 0.1), perDay: 2000, days: DAYS, plannedTotal: PLANNED })).some((look) =>
        effectsOfParts(design, look)?.levels.some(({ interval }) => excludes(interval, 0)),
      ),
    ),
  ]
}

/** Twenty goals that are watched, none of which is changed by anything. */
export function watched(runs: number, seed: number): Tried[] {
  const made = new MadeUpTests(seed)
  const ids = Array.from({ length: 21 }, (_, at) => `goal-${at}` as GoalId)
  const goals = ids.map((id) => goalSchema.parse({ id, name: id, wiring: { kind: 'event', event: 'tuned' } }))
  const arms = [original, variant].map((version) => ({ version, weight: WHOLE / 2, levels: [] }))
  const design = designSchema.parse({
    ...{ name: 'Watched', problem: '', change: '', expected: '', document: 'home', node: 'title', arms },
    ...{ share: WHOLE, primary: ids[0], watched: ids.slice(1), smallestEffect: 0.05 },
  })
  const round = roundSchema.parse({
    ...{ id: 't-1-r1', test: 't-1', number: 1, design, versions: [], goals, salt: 'salt', plannedTotal: PLANNED },
  })
  const names = { version: String, goal: String, page: String }
  return [
    everWrong('one of twenty watched goals is called at the end, where none was changed', runs, () => {
      const rows = ids.flatMap((goal, at): CountedRow[] =>
        dailyOf(made.looks({ rates: [0.05, 0.05], perDay: 2000, days: DAYS, plannedTotal: PLANNED }), goal, at === 0),
      )
      const counts = {
        round,
        weighings: [{ since: dayOf(0), arms }],
        rows,
        days: DAYS,
        plannedTotal: PLANNED,
        going: true,
        fullDays: [],
      }
      return ids.slice(1).some((goal) => {
        const [found] = resultOfRound(counts, goal, names)?.result.variants ?? []
        return found?.reading === 'better' || found?.reading === 'worse'
      })
    }),
  ]
}

const dayOf = (day: number) => new Date(Date.UTC(2026, 0, 1 + day)).toISOString().slice(0, 10)
const none = { assigned: 0, exposed: 0, converters: 0, worth: 0, worthSquared: 0, visits: 0, visitsSquared: 0, visitsWorth: 0 }

/** What was new on each day; who came stands once, with the first goal. */
function dailyOf(looks: readonly Evidence[], goal: GoalId, first: boolean): CountedRow[] {
  return looks.flatMap(({ epochs: [now = []] }, day) =>
    now.flatMap((arm, at) => {
      const before = looks[day - 1]?.epochs[0]?.[at]
      const since = (of: 'assigned' | 'exposed' | 'converters') => arm[of] - (before?.[of] ?? 0)
      const row = { ...none, epoch: 1, version: arm.version, day: dayOf(day) }
      const came = { ...row, goal: '', assigned: since('assigned'), exposed: since('exposed') }
      return [...(first ? [came] : []), { ...row, goal, converters: since('converters') }]
    }),
  )
}
