import { randomBinomial, randomNormal } from 'd3'
import { ORIGINAL, WHOLE } from '../decide'
import type { ArmCounts, Evidence } from '../experiment'
import type { VersionId } from '../ids'
import { lotsOf } from './visitors'

/** A test that is made up: what is true in it, and how it is run. */
export interface MadeUpTest {
  /** True rates, the original’s first. */
  readonly rates: readonly number[]
  readonly perDay: number
  /** How many times as many come on a day, from none. */
  readonly traffic?: (day: number) => number
  readonly days: number
  readonly plannedTotal: number
  readonly effect?: number
  /** What a day, from none, does to the rate of a version. */
  readonly season?: (day: number, arm: number) => number
  /** Of those who are given a version, the share whose browsers tell that they saw it. */
  readonly seen?: (arm: number) => number
  /**
   * The weights of a day, by how it stood before; where they change an epoch begins, and `null` leaves them.
   *
   * @param so the looks until then
   */
  readonly weights?: (day: number, so: readonly Evidence[]) => readonly number[] | null
}

export const versionsOf = (arms: number): VersionId[] =>
  Array.from({ length: arms }, (_, index) => (index === 0 ? ORIGINAL : (`variant-${index}` as VersionId)))

const nobody = { assigned: 0, exposed: 0, converters: 0 }
/** Of few the count is drawn exactly, of many by the normal curve. */
const MANY = 60

/**
 * Made-up tests, the same ones for the same seed: counts are drawn a day at a time, so that a million visitors cost no more
 * than ten.
 */
export class MadeUpTests {
  private readonly lots: () => number
  private readonly normal: () => number

  constructor(seed: number) {
    this.lots = lotsOf(seed)
    this.normal = randomNormal.source(this.lots)(0, 1)
  }

  /** How one of them stands at the end of each day. */
  looks(of: MadeUpTest): Evidence[] {
    const { rates, perDay, days, plannedTotal, weights } = of
    const { effect = 0.05, season = () => 1, seen = () => 1, traffic = () => 1 } = of
    const versions = versionsOf(rates.length)
    const epochs: ArmCounts[][] = []
    const looks: Evidence[] = []
    for (let day = 0; day < days; day++) {
      const changed = day === 0 ? (weights?.(0, looks) ?? versions.map(() => WHOLE / rates.length)) : weights?.(day, looks)
      if (changed) epochs.push(versions.map((version, at) => ({ version, weight: changed[at] ?? 0, ...nobody })))
      const now = epochs.at(-1) ?? []
      const came = this.divided(
        Math.round(perDay * traffic(day)),
        now.map(({ weight }) => weight),
      )
      epochs[epochs.length - 1] = now.map((arm, at) => {
        const given = came[at] ?? 0
        const share = seen(at)
        const exposed = share >= 1 ? given : this.binomial(given, share)
        return {
          ...arm,
          assigned: arm.assigned + given,
          exposed: arm.exposed + exposed,
          converters: arm.converters + this.binomial(exposed, (rates[at] ?? 0) * season(day, at)),
        }
      })
      looks.push({ epochs: [...epochs], days: day + 1, smallestEffect: effect, plannedTotal })
    }
    return looks
  }

  private binomial(n: number, p: number): number {
    if (n <= 0 || p <= 0) return 0
    if (p >= 1) return n
    if (n * Math.min(p, 1 - p) > MANY)
      return Math.min(n, Math.max(0, Math.round(n * p + this.normal() * Math.sqrt(n * p * (1 - p)))))
    return randomBinomial.source(this.lots)(n, p)()
  }

  /** So many by weight. */
  private divided(total: number, weights: readonly number[]): number[] {
    let [left, whole] = [total, weights.reduce((sum, weight) => sum + weight, 0)]
    return weights.map((weight) => {
      const own = whole <= 0 ? 0 : this.binomial(left, weight / whole)
      left -= own
      whole -= weight
      return own
    })
  }
}
