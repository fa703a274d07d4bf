import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import * as z from 'zod'
import {
  allocation,
  bestOf,
  compareRatios,
  detectable,
  differenceError,
  funnel,
  katz,
  lift,
  mixtureInterval,
  mixturePValue,
  mixtureReach,
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
  splitEvidence,
  standardise,
  tuning,
  tunings,
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

const mixture = (input: unknown) => {
  const { plannedTotal, alpha, ...watched } = z
    .object({
      plannedTotal: z.number(),
      alpha: z.number(),
      total: z.number(),
      estimate: z.number(),
      standardError: z.number(),
    })
    .parse(input)
  const rhos = tunings(plannedTotal, alpha)
  const far = mixtureReach(watched.total, rhos, alpha)
  return {
    rhos,
    reach: far,
    halfWidth: watched.standardError === 0 ? null : far * watched.standardError,
    interval: mixtureInterval(watched, rhos, alpha),
    pValue: mixturePValue(watched, rhos),
  }
}

const sequentialSplit = (input: unknown) => {
  const { counts, weights, concentration } = z
    .object({ counts: z.array(z.number()), weights: z.array(z.number()), concentration: z.number() })
    .parse(input)
  const logEvidence = splitEvidence(counts, weights, concentration)
  return { logEvidence, pValue: Math.min(1, Math.exp(-logEvidence)) }
}

const twoOf = z.tuple([z.number(), z.number()])
const epochsOf = (input: unknown) => {
  const { epochs, plannedTotal, alpha } = z
    .object({
      epochs: z.array(z.object({ share: twoOf, n: twoOf, conversions: twoOf })),
      plannedTotal: z.number(),
      alpha: z.number(),
    })
    .parse(input)
  const found = standardise(
    epochs.map(({ share, n, conversions }) => ({
      shares: share,
      outcomes: [
        { n: n[0], conversions: conversions[0] },
        { n: n[1], conversions: conversions[1] },
      ],
    })),
  )
  const none = { rates: null, difference: null, differenceStandardError: null, differenceInterval: null }
  if (found === null) return { total: 0, ...none, lift: null, logStandardError: null, liftInterval: null }
  const { total, rates, difference, differenceError: standardError, lift: relative, logError } = found
  const rhos = tunings(plannedTotal, alpha)
  const logs =
    logError === null
      ? null
      : mixtureInterval({ estimate: Math.log(rates[1] / rates[0]), standardError: logError, total }, rhos, alpha)
  return {
    ...{ total, rates, difference, lift: relative },
    differenceStandardError: standardError,
    differenceInterval: mixtureInterval({ estimate: difference, standardError, total }, rhos, alpha),
    logStandardError: logError,
    liftInterval: logs?.map(Math.expm1) ?? null,
  }
}

const posterior = z.object({
  variants: z.array(outcome),
  prior: z.object({ alpha: z.number(), beta: z.number() }),
})
const bayes = (input: unknown) => {
  const { variants, prior } = posterior.parse(input)
  const { chances, losses } = bestOf(variants, prior)
  return { probabilityBest: chances, expectedLoss: losses }
}
const bandit = (input: unknown) => {
  const { variants, prior, floor } = posterior.extend({ floor: z.number() }).parse(input)
  const { chances } = bestOf(variants, prior)
  return { probabilityBest: chances, weights: allocation(chances, floor) }
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
  ['mixture-sequence', mixture],
  ['sequential-split', sequentialSplit],
  ['epochs', epochsOf],
  ['bayes-binomial', bayes],
  ['bandit', bandit],
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
