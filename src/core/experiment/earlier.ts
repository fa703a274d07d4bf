import { pasts, type Past } from '../ledger'
import type { VersionId } from '../ids'
import { mixtureInterval, standardiseMeasures, mixtureFor, type Interval } from '../stats'
import { enoughOf, LEVEL, type ArmCounts, type Evidence } from './reading'

/** Those who saw a version, and reached the goal, by what they had done before. */
export interface EarlierCounts {
  /** From one. */
  readonly epoch: number
  readonly version: VersionId
  readonly past: Past
  readonly exposed: number
  readonly converters: number
}

/** What a variant does once what its visitors had done before is taken out of it. */
export interface SteadiedVariant {
  readonly version: VersionId
  readonly lift: number | null
  /** By the same sequence as the result, of this look alone. */
  readonly liftInterval: Interval | null
  /** The part of the variance of the difference that is gone. */
  readonly varianceReduction: number
}

interface Steadied {
  readonly n: number
  readonly rate: number
  /** Squared standard error: with what was done before taken out, and as it is. */
  readonly variance: number
  readonly plain: number
}

/**
 * Results made steadier by what visitors had done before they saw anything of the test (CUPED: A. Deng, Y. Xu, R. Kohavi,
 * T. Walker 2013): y′ = y − (m(x) − m), where m(x) is the rate of all of an epoch who had done as much before, and m that of
 * all. Chance gave one version more of those who come back; that is taken out, and with it what they differ by. Of whom
 * nothing was written down is a group by themselves.
 *
 * @returns `null` where nobody is known to have been here before
 */
export function steadied({ epochs, plannedTotal, days }: Evidence, counts: readonly EarlierCounts[]): SteadiedVariant[] | null {
  if (!counts.some(({ past, exposed }) => past !== 'new' && exposed > 0)) return null
  const [first = []] = epochs
  const alpha = (1 - LEVEL) / Math.max(1, first.length - 1)
  const mixture = mixtureFor(plannedTotal, alpha)
  const arms = epochs.map((epoch, index) =>
    steadiedArms(
      epoch,
      counts.filter((one) => one.epoch === index + 1),
    ),
  )
  return first.slice(1).map(({ version }, index) => {
    const at = index + 1
    const pairs = epochs.flatMap((epoch, number) => {
      const [original, variant] = [arms[number]?.[0], arms[number]?.[at]]
      const shares = [epoch[0]?.weight ?? 0, epoch[at]?.weight ?? 0] as const
      return original === undefined || variant === undefined ? [] : [{ shares, original, variant }]
    })
    const over = (of: 'variance' | 'plain') =>
      standardiseMeasures(
        pairs.map(({ shares, original, variant }) => ({
          shares,
          n: [original.n, variant.n],
          values: [original.rate, variant.rate],
          variances: [original[of], variant[of]],
        })),
      )
    const [found, plain] = [over('variance'), over('plain')]
    const nothing = { version, lift: null, liftInterval: null, varianceReduction: 0 }
    if (found === null || plain === null || !enoughOf(epochs, at) || days < 1) return nothing
    const [base, rate] = found.values
    if (base <= 0 || rate <= 0) return nothing
    const standardError = Math.sqrt(found.variances[0] / base ** 2 + found.variances[1] / rate ** 2)
    const logs = mixtureInterval({ estimate: Math.log(rate / base), standardError, total: found.total }, mixture)
    const sum = ([one, other]: readonly [number, number]) => one + other
    return {
      version,
      lift: rate / base - 1,
      liftInterval: logs === null ? null : [Math.expm1(logs[0]), Math.expm1(logs[1])],
      varianceReduction: Math.max(0, 1 - sum(found.variances) / sum(plain.variances)),
    }
  })
}

/** What is left of each version of one epoch. */
function steadiedArms(arms: readonly ArmCounts[], counts: readonly EarlierCounts[]): Steadied[] {
  const groups = arms.map((arm) => groupsOf(arm, counts))
  const rateOf = (of: readonly Group[]) => {
    const [exposed, converters] = [total(of, 'exposed'), total(of, 'converters')]
    return exposed === 0 ? 0 : converters / exposed
  }
  const everybody = rateOf(groups.flat())
  const expected = (groups[0] ?? []).map((_, kind) => rateOf(groups.flatMap((own) => own[kind] ?? [])))
  return groups.map((own) => {
    const n = total(own, 'exposed')
    if (n === 0) return { n, rate: 0, variance: 0, plain: 0 }
    const share = (of: (group: Group, rate: number) => number) =>
      own.reduce((sum, group, kind) => sum + of(group, expected[kind] ?? 0), 0) / n
    const left = share(({ exposed, converters }, rate) => converters - exposed * rate)
    const squares = share(({ exposed, converters }, rate) => converters * (1 - rate) ** 2 + (exposed - converters) * rate ** 2)
    const found = total(own, 'converters') / n
    return { n, rate: left + everybody, variance: (squares - left ** 2) / n, plain: (found * (1 - found)) / n }
  })
}

interface Group {
  readonly exposed: number
  readonly converters: number
}

const total = (groups: readonly Group[], of: keyof Group) => groups.reduce((sum, group) => sum + group[of], 0)

/** By what they had done, and last those of whom it is not known. */
function groupsOf({ version, exposed, converters }: ArmCounts, counts: readonly EarlierCounts[]): Group[] {
  const known = pasts.map((past) => {
    const own = counts.filter((one) => one.version === version && one.past === past)
    return { exposed: Math.max(0, total(own, 'exposed')), converters: Math.max(0, total(own, 'converters')) }
  })
  const rest = (of: keyof Group, all: number) => Math.max(0, all - total(known, of))
  return [...known, { exposed: rest('exposed', exposed), converters: rest('converters', converters) }]
}

/** “a tenth”, said of the part of the variance that is gone, for those for whom that is not a word. */
export function steadiedWords(variants: readonly SteadiedVariant[]): string {
  const most = Math.max(0, ...variants.map(({ varianceReduction }) => varianceReduction))
  const [fewer, more] = [Math.round(most * 100), Math.round((1 / (1 - Math.min(most, 0.99)) - 1) * 100)]
  return fewer < 1
    ? 'What visitors had done before says next to nothing of whether they reach this goal: it makes no difference here.'
    : `What visitors had done before explains ${fewer}% of the noise: as good as ${more}% more visitors.`
}
