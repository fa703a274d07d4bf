import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import * as z from 'zod'
import {
  compareRatios,
  detectable,
  differenceError,
  funnel,
  katz,
  lift,
  newcombe,
  normalCdf,
  normalQuantile,
  pooledTest,
  powerOf,
  rate,
  reach,
  sampleSize,
  sequenceInterval,
  sequencePValue,
  splitCheck,
  tuning,
  wilson,
  type Outcome,
} from '.'

/*
 * Values from 50-digit arithmetic, compared with R, SciPy and statsmodels (each file names its source). A number passes
 * when |got − want| <= tolerance·|want| + absolute.
 */
const familySchema = z.object({
  tolerance: z.number(),
  absolute: z.record(z.string(), z.number()),
  cases: z.array(
    z.object({
      input: z.record(z.string(), z.unknown()),
      expected: z.record(z.string(), z.unknown()),
      tolerance: z.number().optional(),
    }),
  ),
})

const outcome = z.object({ n: z.number(), conversions: z.number() })
const pair = z.object({ baseline: outcome, variant: outcome, confidence: z.number() })

const proportionTest = (input: unknown) => {
  const { baseline, variant, confidence } = pair.parse(input)
  return {
    p1: rate(baseline),
    p2: rate(variant),
    difference: rate(variant) - rate(baseline),
    ...pooledTest(baseline, variant),
    differenceInterval: newcombe(baseline, variant, confidence),
    standardErrorUnpooled: differenceError(baseline, variant),
    lift: lift(baseline, variant),
    liftIntervalLogRatio: katz(baseline, variant, confidence),
  }
}

const wilsonOf = (input: unknown) => {
  const { confidence, ...counts } = outcome.extend({ confidence: z.number() }).parse(input)
  const [lower, upper] = wilson(counts, confidence)
  return { proportion: rate(counts), lower, upper }
}

const split = (input: unknown) => {
  const { counts, weights } = z.object({ counts: z.array(z.number()), weights: z.array(z.number()) }).parse(input)
  return splitCheck(counts, weights)
}

const sequence = (input: unknown) => {
  const { kind } = z.object({ kind: z.string() }).parse(input)
  const { plannedTotal, alpha } = z.object({ plannedTotal: z.number(), alpha: z.number() }).parse(input)
  const rho = tuning(plannedTotal, alpha)
  if (kind === 'rho') return { rho }
  const { baseline, variant }: { baseline: Outcome; variant: Outcome } = pair.omit({ confidence: true }).parse(input)
  const standardError = differenceError(baseline, variant)
  const total = baseline.n + variant.n
  const watched = { estimate: rate(variant) - rate(baseline), standardError, total }
  return {
    estimate: watched.estimate,
    standardError,
    t: total,
    rho,
    halfWidth: standardError === 0 ? null : standardError * reach(total, rho, alpha),
    interval: sequenceInterval(watched, rho, alpha),
    pValue: sequencePValue(watched, rho),
  }
}

const power = (input: unknown) => {
  const plan = z
    .object({ baselineRate: z.number(), alpha: z.number(), power: z.number().default(0.8), variants: z.number() })
    .parse(input)
  const more = z
    .object({
      kind: z.string(),
      relativeEffect: z.number().default(0),
      ratio: z.number().default(1),
      nBaseline: z.number().default(1),
      nVariant: z.number().default(1),
    })
    .parse(input)
  if (more.kind === 'sample-size') return { ...sampleSize(plan, more.relativeEffect, more.ratio) }
  if (more.kind === 'mde') return { ...detectable(plan, more.nBaseline, more.nVariant) }
  return { power: powerOf(plan, more.relativeEffect, more.nBaseline, more.nVariant) }
}

const normal = (input: unknown) => {
  const named = z.object({ function: z.string(), x: z.number().default(0), p: z.number().default(0.5) }).parse(input)
  return { value: named.function === 'normalCdf' ? normalCdf(named.x) : normalQuantile(named.p) }
}

const funnelOf = (input: unknown) => {
  const { counts, confidence } = z.object({ counts: z.array(z.number()), confidence: z.number() }).parse(input)
  return { steps: funnel(counts, confidence).map((step, index) => ({ step: index + 1, ...step })) }
}

const moments = z.object({
  n: z.number(),
  meanX: z.number(),
  meanY: z.number(),
  varianceX: z.number().nullable(),
  varianceY: z.number().nullable(),
  covariance: z.number().nullable(),
})
const ratioMetric = (input: unknown) => {
  const { baseline, variant, confidence } = z.object({ baseline: moments, variant: moments, confidence: z.number() }).parse(input)
  // A group of one has no variances; they are not asked for then.
  const known = ({ varianceX, varianceY, covariance, ...rest }: z.infer<typeof moments>) => ({
    ...rest,
    varianceX: varianceX ?? 0,
    varianceY: varianceY ?? 0,
    covariance: covariance ?? 0,
  })
  return { ...compareRatios(known(baseline), known(variant), confidence) }
}

const families: [string, (input: unknown) => Record<string, unknown>][] = [
  ['wilson', wilsonOf],
  ['proportion-test', proportionTest],
  ['split', split],
  ['sequence', sequence],
  ['power', power],
  ['normal', normal],
  ['funnel', funnelOf],
  ['ratio-metric', ratioMetric],
]

describe.each(families)('%s reproduces its reference values', (name, compute) => {
  const text = readFileSync(join(__dirname, 'reference', `${name}.json`), 'utf8')
  const family = familySchema.parse(JSON.parse(text))

  test.each(family.cases.map(({ input, ...rest }) => [JSON.stringify(input), input, rest] as const))(
    '%s',
    (_, input, { expected, tolerance }) => {
      const got = compute(input)
      for (const [field, want] of Object.entries(expected)) {
        const key = name === 'normal' && typeof input.function === 'string' ? input.function : field
        const absolute = family.absolute[key] ?? family.absolute.default ?? 0
        expectNear(`${field}`, got[field], want, tolerance ?? family.tolerance, absolute)
      }
    },
  )
})

function expectNear(field: string, got: unknown, want: unknown, tolerance: number, absolute: number): void {
  if (Array.isArray(want)) {
    expect(got).toHaveLength(want.length)
    want.forEach((part, index) => expectNear(field, Array.isArray(got) ? got[index] : undefined, part, tolerance, absolute))
  } else if (typeof want === 'number') {
    const near = typeof got === 'number' && Math.abs(got - want) <= tolerance * Math.abs(want) + absolute
    expect(`${field}: ${near ? want : String(got)}`).toBe(`${field}: ${want}`)
  } else if (typeof want === 'object' && want !== null) {
    const found = (got ?? {}) as Record<string, unknown>
    for (const [key, part] of Object.entries(want)) expectNear(`${field}.${key}`, found[key], part, tolerance, absolute)
  } else expect(got).toEqual(want)
}
