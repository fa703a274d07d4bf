import { WHOLE } from '@/core/decide'
import { forecast, read, readThrough, visitorsToSee, type Evidence, type Reading, type Result } from '@/core/experiment'
import { MadeUpTests, manyRuns, versionsOf, type MadeUpTest } from '@/core/simulate'
import { allocation, bestOf, sampleSize } from '@/core/stats'
import { before, intervals, parts, watched, worth } from './other-readings'

/*
 * Are results right that are looked at every day? Whole tests are made up, day by day, and read as the product reads them:
 * how often something is called that is not there, how often what is there is seen by when it was promised, how much
 * later than by one look at the end. RUNS says how many tests of each kind, SEED which.
 */
const RUNS = Number(process.env.RUNS ?? 400)
const SEED = Number(process.env.SEED ?? 1)
const DAYS = 28

const made = new MadeUpTests(SEED)
const looksAt = (kind: MadeUpTest) => made.looks(kind)

const isCalled = (reading: Reading | undefined) => reading === 'better' || reading === 'worse'
const calledIn = (result: Result) => result.variants.some(({ reading }) => isCalled(reading))
const share = (of: number, all = RUNS) => `${((100 * of) / all).toFixed(1)}%`
const many = <T>(of: () => T): T[] => Array.from({ length: RUNS }, of)

let failed = false
function expectThat(holds: boolean, words: string): void {
  if (!holds) failed = true
  console.log(`looks: ${words}${holds ? '' : '  <- NOT AS PROMISED'}`)
}
/** What chance alone may add to a share that was found in so many runs: three standard errors. */
const chance = (p: number) => 3 * Math.sqrt((p * (1 - p)) / RUNS)

for (const arms of [2, 4, 6])
  for (const rate of [0.01, 0.05, 0.2])
    for (const perDay of [200, 2000]) {
      const design = {
        arms: versionsOf(arms).map((version) => ({ version, weight: WHOLE / arms, levels: [] })),
        share: WHOLE,
        smallestEffect: 0.05,
      }
      const { plannedTotal } = forecast(design, { visitorsPerDay: perDay, recent: [], baseRate: rate })
      const runs = many(() => readThrough(looksAt({ rates: versionsOf(arms).map(() => rate), perDay, days: DAYS, plannedTotal })))
      const ever = runs.filter((results) => results.some(calledIn)).length / RUNS
      const alarms = runs.filter((results) => results.some(({ split }) => !split.trusted)).length / RUNS
      expectThat(
        ever <= 0.05 + chance(0.05) && alarms <= 0.001 + chance(0.001),
        `without any effect, ${arms} versions, ${rate * 100}%, ${perDay} a day: ever called ${share(ever * RUNS)}, split alarms ${share(alarms * RUNS)}`,
      )
    }

for (const [rate, perDay] of [
  [0.05, 400],
  [0.05, 4000],
  [0.2, 1000],
] as const) {
  const design = {
    arms: versionsOf(2).map((version) => ({ version, weight: WHOLE / 2, levels: [] })),
    share: WHOLE,
    smallestEffect: 0.05,
  }
  const ahead = forecast(design, { visitorsPerDay: perDay, recent: [], baseRate: rate })
  for (const { weeks, gain } of ahead.seen) {
    if (gain === null) continue
    const kind = { rates: [rate, rate * (1 + gain)], perDay, days: 7 * weeks, plannedTotal: ahead.plannedTotal }
    const seen = many(() => readThrough(looksAt(kind)).some((result) => result.variants[0]?.reading === 'better')).filter(
      Boolean,
    ).length
    const at = seen / RUNS
    expectThat(
      at >= 0.75 - chance(0.8) && at <= 0.85 + chance(0.8),
      `promised 80% after ${weeks} weeks for ${(gain * 100).toFixed(1)}% more of ${rate * 100}% with ${perDay} a day: seen in ${share(seen)}`,
    )
  }
}

for (const times of [1, 4]) {
  const [rate, perDay, planned] = [0.05, 12_000, 0.05]
  const { plannedTotal } = forecast(
    { arms: versionsOf(2).map((version) => ({ version, weight: WHOLE / 2, levels: [] })), share: WHOLE, smallestEffect: planned },
    { visitorsPerDay: perDay, recent: [], baseRate: rate },
  )
  const once = sampleSize({ baselineRate: rate, alpha: 0.05, power: 0.8, variants: 2 }, planned * times, 1).nTotal / perDay
  const days = many(() => {
    const results = readThrough(looksAt({ rates: [rate, rate * (1 + planned * times)], perDay, days: 90, plannedTotal }))
    const first = results.findIndex(calledIn)
    return first < 0 ? Infinity : first + 1
  }).sort((one, other) => one - other)
  const median = days[Math.floor(RUNS / 2)] ?? NaN
  console.log(
    `looks: ${planned * times * 100}% more where ${planned * 100}% was planned for: called after ${median} days (median), one look of the right size takes ${once.toFixed(1)}: ${(median / once).toFixed(2)} times it`,
  )
}

const season = (day: number) => 1 + 0.5 * Math.sin((day * 2 * Math.PI) / 28)
const thompson = (day: number, looks: readonly Evidence[]) => {
  const last = looks.at(-1)
  if (day === 0 || last === undefined) return [5000, 5000]
  const outcomes = read(last).rates.map(({ exposed: n, converters: conversions }) => ({ n, conversions }))
  return allocation(bestOf(outcomes).chances, 0.1).map((weight) => Math.round(weight * WHOLE))
}
for (const [name, weights] of [
  ['half and half, then one to four', (day: number) => (day === 0 ? [5000, 5000] : day === 10 ? [2000, 8000] : null)],
  ['adaptive, a look a day', thompson],
] as const) {
  const runs = many(() =>
    readThrough(looksAt({ rates: [0.1, 0.1], perDay: 1000, days: DAYS, plannedTotal: 28_000, season, weights })),
  )
  const ever = runs.filter((results) => results.some(calledIn)).length / RUNS
  const alarms = runs.filter((results) => results.some(({ split }) => !split.trusted)).length / RUNS
  const lift = runs.reduce((sum, results) => sum + (results.at(-1)?.variants[0]?.lift ?? 0), 0) / RUNS
  const pooled = many(() =>
    looksAt({ rates: [0.1, 0.1], perDay: 1000, days: DAYS, plannedTotal: 28_000, season, weights }),
  ).filter((looks) => readThrough(looks.map(asOne)).some(calledIn)).length
  expectThat(
    ever <= 0.05 + chance(0.05) && alarms <= 0.001 + chance(0.001),
    `without any effect and a rate that drifts by half, ${name}: ever called ${share(ever * RUNS)} (as one heap ${share(pooled)}), mean lift ${(lift * 100).toFixed(2)}%, split alarms ${share(alarms * RUNS)}`,
  )
}

/** What it would be to add the epochs up. */
function asOne(look: Evidence): Evidence {
  const [first = []] = look.epochs
  const sum = (at: number, of: 'assigned' | 'exposed' | 'converters') =>
    look.epochs.reduce((all, arms) => all + (arms[at]?.[of] ?? 0), 0)
  const arms = first.map((arm, at) => ({
    ...arm,
    assigned: sum(at, 'assigned'),
    exposed: sum(at, 'exposed'),
    converters: sum(at, 'converters'),
  }))
  const whole = arms.reduce((all, { assigned }) => all + assigned, 0)
  // By its own split, so that only the rates are heaped up.
  return { ...look, epochs: [arms.map((arm) => ({ ...arm, weight: Math.max(1, Math.round((arm.assigned / whole) * WHOLE)) }))] }
}

// Reading twenty goals of each test costs twenty times as much.
for (const { words, wrong, of } of [
  ...intervals(RUNS, SEED),
  ...worth(Math.ceil(RUNS / 5), SEED),
  ...before(RUNS, SEED),
  ...parts(Math.ceil(RUNS / 5), SEED),
  ...watched(Math.ceil(RUNS / 20), SEED),
])
  expectThat(
    wrong / of <= 0.05 + 3 * Math.sqrt((0.05 * 0.95) / of),
    `${words}: in ${((100 * wrong) / of).toFixed(1)}% of ${of} tests looked at daily for ${DAYS} days`,
  )

console.log(
  `looks: the difference worth having of 5% at 5% needs ${visitorsToSee({ baseRate: 0.05, effect: 0.05, alpha: 0.05, ratio: 1 }, 244_000)} visitors by the sequence`,
)
// As a browser makes them up: each run divided, made to convert and read on every day of three weeks.
const rehearsed = { visitors: 20_000, days: 21, seed: SEED, smallestEffect: 0.05, plannedTotal: 20_000, weekends: 0.83 }
const arms = [0.1, 0.11].map((rate) => ({ rate, weight: WHOLE / 2, mishap: 'none' as const }))
const began = performance.now()
let runs = 0
for (const { done } of manyRuns({ ...rehearsed, arms }, 1000)) runs = done
const millions = (runs * rehearsed.visitors) / (performance.now() - began) / 1000
expectThat(
  millions >= 2,
  `a rehearsal of ${rehearsed.visitors.toLocaleString('en-GB')} visitors made up ${runs} times: ${millions.toFixed(1)} million visitors a second on one core (at least 2)`,
)
process.exitCode = failed ? 1 : 0
