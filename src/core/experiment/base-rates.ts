import { criticalValue, normalCdf, rate, studentTQuantile, type Interval, type Outcome } from '../stats'
import { ENOUGH_CONVERTERS, LEVEL } from './reading'

/** A test that is settled, as far as it says what tests of its kind do. */
export interface PastTest {
  /** What was tested: “heading”, “menu”. */
  readonly kind: string
  /** What each version had, the original first. */
  readonly arms: readonly { readonly exposed: number; readonly converters: number }[]
  /** Whether a variant was taken over, and read as better. */
  readonly paid: boolean
}

/** One of them, and what is left of its gain once what tests of its kind mostly do is known as well. */
export interface ShrunkTest<Of extends PastTest> {
  readonly of: Of
  /** Of its variants on average, over the original; relative. */
  readonly lift: number
  readonly shrunk: number
  readonly interval: Interval
}

/** What is true of a variant of this kind, as far as past tests tell: the logarithm of its ratio is normal about `mean`. */
export interface Prior {
  readonly mean: number
  readonly deviation: number
}

export interface KindOfTests<Of extends PastTest> {
  readonly kind: string
  readonly tests: number
  readonly paid: number
  /** Relative: of a variant of this kind, on average. `null` for fewer than three that say anything. */
  readonly average: { readonly lift: number; readonly interval: Interval } | null
  readonly prior: Prior | null
  /** Those that say anything, the largest gain first. */
  readonly each: readonly ShrunkTest<Of>[]
}

/** From fewer tests nothing is made of what tests of their kind do. */
export const FEWEST_TESTS = 3

/**
 * Past tests of one kind beside each other: how often they paid, and by how much. Their gains are shrunk towards their mean,
 * the more the less each of them knows (random effects: R. DerSimonian, N. Laird 1986; the mean’s interval by G. Knapp,
 * J. Hartung 2003): the largest of many gains is mostly too large.
 */
export function kindsOf<Of extends PastTest>(tests: readonly Of[]): KindOfTests<Of>[] {
  const kinds = [...new Set(tests.map(({ kind }) => kind))]
  return kinds
    .map((kind) =>
      compared(
        kind,
        tests.filter((one) => one.kind === kind),
      ),
    )
    .sort((one, other) => other.tests - one.tests || (one.kind < other.kind ? -1 : 1))
}

function compared<Of extends PastTest>(kind: string, tests: readonly Of[]): KindOfTests<Of> {
  const known = tests.flatMap((of) => {
    const gain = gainOf(of.arms)
    return gain === null ? [] : [{ of, ...gain }]
  })
  const common = { kind, tests: tests.length, paid: tests.filter(({ paid }) => paid).length }
  const pooled = known.length < FEWEST_TESTS ? null : pool(known)
  const each = known
    .map(({ of, log, variance }): ShrunkTest<Of> => {
      const [mean, between] = pooled === null ? [log, Infinity] : [pooled.mean, pooled.between]
      const own = between === Infinity ? 1 : between / (between + variance)
      const middle = own * log + (1 - own) * mean
      // What is not known of the mean is not known of what is shrunk to it either.
      const error = Math.sqrt(own * variance + (pooled === null ? 0 : ((1 - own) * pooled.error) ** 2))
      return { of, lift: Math.expm1(log), shrunk: Math.expm1(middle), interval: spanOf(middle, criticalValue(LEVEL) * error) }
    })
    .sort((one, other) => other.shrunk - one.shrunk)
  if (pooled === null) return { ...common, average: null, prior: null, each }
  const { mean, error, between } = pooled
  const reach = studentTQuantile((1 + LEVEL) / 2, known.length - 1) * error
  return {
    ...common,
    average: { lift: Math.expm1(mean), interval: spanOf(mean, reach) },
    prior: { mean, deviation: Math.sqrt(between + error ** 2) },
    each,
  }
}

const spanOf = (middle: number, reach: number): Interval => [Math.expm1(middle - reach), Math.expm1(middle + reach)]

/** The logarithm of what its variants had on average over what the original had. */
function gainOf([original, ...variants]: PastTest['arms']): { log: number; variance: number } | null {
  if (original === undefined || variants.length === 0) return null
  if ([original, ...variants].some(({ converters, exposed }) => converters < ENOUGH_CONVERTERS || converters > exposed))
    return null
  const [base, ...others] = [original, ...variants].map(({ exposed: n, converters: conversions }): Outcome => ({
    n,
    conversions,
  }))
  if (base === undefined) return null
  // Of the logarithm of one rate (Katz 1978).
  const variance = ({ n, conversions }: Outcome) => 1 / conversions - 1 / n
  const log = others.reduce((sum, one) => sum + Math.log(rate(one)), 0) / others.length - Math.log(rate(base))
  const all = others.reduce((sum, one) => sum + variance(one), 0) / others.length ** 2 + variance(base)
  return all > 0 ? { log, variance: all } : null
}

function pool(known: readonly { readonly log: number; readonly variance: number }[]) {
  const total = (of: (one: { log: number; variance: number }) => number) => known.reduce((sum, one) => sum + of(one), 0)
  const fixed = (one: { variance: number }) => 1 / one.variance
  const whole = total(fixed)
  const common = total((one) => fixed(one) * one.log) / whole
  const q = total((one) => fixed(one) * (one.log - common) ** 2)
  const between = Math.max(0, (q - (known.length - 1)) / (whole - total((one) => fixed(one) ** 2) / whole))
  const random = (one: { variance: number }) => 1 / (one.variance + between)
  const weight = total(random)
  const mean = total((one) => random(one) * one.log) / weight
  const spread = total((one) => random(one) * (one.log - mean) ** 2) / (known.length - 1)
  return { mean, between, error: Math.sqrt(Math.max(1, spread) / weight) }
}

/** What a variant of this kind gains, nine times of ten. */
export function likelyGain({ mean, deviation }: Prior): Interval {
  return spanOf(mean, criticalValue(0.9) * deviation)
}

/** The chance that something of this kind gains anything at all. */
export function chanceOfGain({ mean, deviation }: Prior): number {
  return deviation === 0 ? Number(mean > 0) : normalCdf(mean / deviation)
}

/** So many points of the normal curve, with what each stands for. */
const POINTS = 61
const WIDEST = 4

/** The average of something over what may be true. @param of by the logarithm of the ratio */
export function averageOver({ mean, deviation }: Prior, of: (log: number) => number): number {
  let [sum, whole] = [0, 0]
  for (let at = 0; at < POINTS; at++) {
    const z = -WIDEST + (2 * WIDEST * at) / (POINTS - 1)
    const weight = Math.exp((-z * z) / 2)
    sum += weight * of(mean + z * deviation)
    whole += weight
  }
  return sum / whole
}
