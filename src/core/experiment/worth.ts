import type { VersionId } from '../ids'
import {
  mixtureInterval,
  ratioOf,
  ratioVariance,
  standardiseMeasures,
  mixtureFor,
  type Interval,
  type PairMoments,
} from '../stats'
import { ENOUGH_CONVERTERS, ENOUGH_EXPOSED, LEVEL } from './reading'

/** What the visitors of one version who were drawn in one epoch brought, as sums over those who were exposed. */
export interface WorthCounts {
  readonly version: VersionId
  readonly weight: number
  readonly exposed: number
  readonly converters: number
  readonly worth: number
  readonly worthSquared: number
  /** Visits they made from their first exposure on, and the sum of their squares. */
  readonly visits: number
  readonly visitsSquared: number
  /** Of each visitor their visits times what they brought. */
  readonly visitsWorth: number
  /** Those who brought something, by how much; none where that was not counted. */
  readonly classes?: readonly WorthClass[]
}

/** Visitors of one version and epoch who brought about as much, up to so much. */
export interface WorthClass {
  readonly upTo: number
  readonly visitors: number
  readonly worth: number
  readonly worthSquared: number
  readonly visits: number
  readonly visitsWorth: number
}

/** What visitors brought beyond which they are counted as if they had brought so much. */
export interface WorthCap {
  readonly upTo: number
  readonly visitors: number
}

export interface WorthReading {
  /** `null` where nobody brought so much more than others. */
  readonly cap: WorthCap | null
  readonly arms: readonly WorthResult[]
}

export interface WorthResult {
  readonly version: VersionId
  readonly perVisitor: number | null
  readonly perVisit: number | null
  /** Difference of worth per visitor from the original, by the sequence; `null` for the original and while nobody came. */
  readonly difference: Interval | null
  /** The same of worth per visit. */
  readonly visitDifference: Interval | null
}

/**
 * Worth per visitor is a mean, worth per visit a ratio of sums whose unit is the visitor; the difference of either from
 * the original is safe to look at daily, as the sequence of the rates is, and as silent about few. So that a few who buy
 * much do not carry it, whoever brought more than 99 in 100 of those who brought anything counts as if they had brought
 * that much (winsorised, all versions together).
 *
 * @param counted the same versions in each epoch, the original first
 * @param trusted without a split that is as planned, nothing is said of a difference
 */
export function readWorth(counted: readonly (readonly WorthCounts[])[], plannedTotal: number, trusted: boolean): WorthReading {
  const cap = capOf(counted.flat())
  const epochs = cap === null ? counted : counted.map((arms) => arms.map((counts) => capped(counts, cap.upTo)))
  return { cap, arms: readArms(epochs, plannedTotal, trusted) }
}

const TOP = 0.99
/** Of fewer who brought anything, the one in a hundred is nobody in particular. */
const ENOUGH_BUYERS = 100

function capOf(counts: readonly WorthCounts[]): WorthCap | null {
  const classes = counts.flatMap((of) => of.classes ?? []).sort((lower, higher) => lower.upTo - higher.upTo)
  const sum = (of: 'visitors' | 'worth') => classes.reduce((all, one) => all + one[of], 0)
  const buyers = sum('visitors')
  const whole = counts.reduce((all, { worth }) => all + worth, 0)
  // What was counted before there were classes is in none.
  if (buyers < ENOUGH_BUYERS || Math.abs(sum('worth') - whole) > 0.005 * Math.abs(whole)) return null
  let passed = 0
  const at = classes.find(({ visitors }) => (passed += visitors) >= TOP * buyers)
  if (at === undefined) return null
  const above = classes.filter(({ upTo }) => upTo > at.upTo).reduce((all, { visitors }) => all + visitors, 0)
  return above <= 0 ? null : { upTo: at.upTo, visitors: above }
}

function capped(counts: WorthCounts, cap: number): WorthCounts {
  const above = (counts.classes ?? []).filter(({ upTo }) => upTo > cap)
  const sum = (of: Exclude<keyof WorthClass, 'upTo'>) => above.reduce((all, one) => all + one[of], 0)
  return {
    ...counts,
    worth: counts.worth - sum('worth') + cap * sum('visitors'),
    worthSquared: counts.worthSquared - sum('worthSquared') + cap ** 2 * sum('visitors'),
    visitsWorth: counts.visitsWorth - sum('visitsWorth') + cap * sum('visits'),
  }
}

function readArms(epochs: readonly (readonly WorthCounts[])[], plannedTotal: number, trusted: boolean): WorthResult[] {
  const [first = []] = epochs
  const alpha = (1 - LEVEL) / Math.max(1, first.length - 1)
  const mixture = mixtureFor(plannedTotal, alpha)
  return first.map(({ version }, index) => {
    const own = sumOf(epochs, index)
    const moments = momentsOf(own)
    const watch = (of: Measure): Interval | null => {
      const found = standardiseMeasures(epochs.flatMap((arms) => measured(arms, index, of)))
      if (found === null) return null
      const { total, values, variances } = found
      const standardError = Math.sqrt(variances[0] + variances[1])
      return mixtureInterval({ estimate: values[1] - values[0], standardError, total }, mixture)
    }
    const isSaid = index > 0 && trusted && isEnough(sumOf(epochs, 0), own)
    return {
      version,
      perVisitor: moments.n === 0 ? null : moments.meanY,
      perVisit: moments.n === 0 ? null : ratioOf(moments),
      difference: isSaid ? watch(perVisitor) : null,
      visitDifference: isSaid ? watch(perVisit) : null,
    }
  })
}

/** A value with the square of its standard error; `null` where there is none. */
type Measure = (of: PairMoments) => readonly [number, number] | null
const perVisitor: Measure = ({ n, meanY, varianceY }) => (n < 2 ? null : [meanY, varianceY / n])
const perVisit: Measure = (of) => {
  const [ratio, variance] = [ratioOf(of), ratioVariance(of)]
  return ratio === null || variance === null ? null : [ratio, variance]
}

function measured(arms: readonly WorthCounts[], index: number, of: Measure) {
  const [original, arm] = [arms[0], arms[index]]
  if (original === undefined || arm === undefined) return []
  const [one, other] = [of(momentsOf(original)), of(momentsOf(arm))]
  if (one === null || other === null) return []
  return [
    {
      shares: [original.weight, arm.weight] as const,
      n: [original.exposed, arm.exposed] as const,
      values: [one[0], other[0]] as const,
      variances: [one[1], other[1]] as const,
    },
  ]
}

function isEnough(original: WorthCounts, arm: WorthCounts): boolean {
  return (
    Math.min(original.exposed, arm.exposed) >= ENOUGH_EXPOSED &&
    Math.max(original.converters, arm.converters) >= ENOUGH_CONVERTERS
  )
}

const summed = ['exposed', 'converters', 'worth', 'worthSquared', 'visits', 'visitsSquared', 'visitsWorth'] as const

function sumOf(epochs: readonly (readonly WorthCounts[])[], index: number): WorthCounts {
  const own = epochs.flatMap((arms) => arms[index] ?? [])
  const [first] = own
  if (first === undefined) throw new RangeError('worth: an epoch lacks a version')
  const sums = summed.map((name) => [name, own.reduce((sum, counts) => sum + counts[name], 0)])
  return { ...first, ...(Object.fromEntries(sums) as Pick<WorthCounts, (typeof summed)[number]>) }
}

/** Sample moments from sums; rounding can take a variance below zero where all are alike. */
function momentsOf({ exposed: n, worth, worthSquared, visits, visitsSquared, visitsWorth }: WorthCounts): PairMoments {
  const [meanX, meanY] = n === 0 ? [0, 0] : [visits / n, worth / n]
  const sample = (sum: number, product: number) => (n < 2 ? 0 : (sum - n * product) / (n - 1))
  return {
    n,
    meanX,
    meanY,
    varianceX: Math.max(0, sample(visitsSquared, meanX * meanX)),
    varianceY: Math.max(0, sample(worthSquared, meanY * meanY)),
    covariance: sample(visitsWorth, meanX * meanY),
  }
}
