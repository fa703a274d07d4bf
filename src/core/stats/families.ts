import * as z from 'zod'
import {
  adjusted,
  allocation,
  bestOf,
  betaCdf,
  betaLogPdf,
  betaQuantile,
  chiSquareSurvival,
  compareMeans,
  compareRatios,
  credible,
  credibleLift,
  cuped,
  detectable,
  differenceError,
  funnel,
  holm,
  interaction,
  katz,
  koopman,
  lift,
  logGamma,
  mainEffects,
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
  studentTCdf,
  studentTQuantile,
  tuning,
  mixtureFor,
  wilson,
  winsorised,
} from '.'

/*
 * Each family of what is computed here, by its name, as JSON takes it and gives it: for the command line, and for the
 * values that it is held against.
 */

const outcome = z.object({ n: z.number(), conversions: z.number() })
const mean = z.object({ n: z.number(), mean: z.number(), variance: z.number().nullable() })
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
    liftIntervalScore: koopman(baseline, variant, confidence),
  }
}

const wilsonOf = (input: unknown) => {
  const { confidence, ...counts } = outcome.extend({ confidence: z.number() }).parse(input)
  const [lower, upper] = wilson(counts, confidence)
  return { proportion: rate(counts), lower, upper }
}

const split = (input: unknown) => {
  const { counts, weights } = z.object({ counts: z.array(z.number()), weights: z.array(z.number()) }).parse(input)
  const [total, whole] = [counts, weights].map((of) => of.reduce((sum, value) => sum + value, 0))
  const expectedCounts = weights.map((weight) => ((total ?? 0) * weight) / (whole ?? 1))
  return { expectedCounts, ...splitCheck(counts, weights) }
}

const sequence = (input: unknown) => {
  const { kind, plannedTotal, alpha } = z.object({ kind: z.string(), plannedTotal: z.number(), alpha: z.number() }).parse(input)
  const rho = tuning(plannedTotal, alpha)
  if (kind === 'rho') {
    const start = -2 * Math.log(alpha)
    return { rho, rhoApproximate: Math.sqrt((start + Math.log(start + 1)) / plannedTotal) }
  }
  const watched = kind === 'mean' ? watchedMeans(input) : watchedRates(input)
  const { estimate, standardError, total } = watched
  if (standardError === null) return { estimate, standardError, t: total, rho, halfWidth: null, interval: null, pValue: null }
  return {
    ...{ estimate, standardError, t: total, rho },
    halfWidth: standardError === 0 ? null : standardError * reach(total, rho, alpha),
    interval: sequenceInterval({ estimate, standardError, total }, rho, alpha),
    pValue: sequencePValue({ estimate, standardError, total }, rho),
  }
}

function watchedRates(input: unknown) {
  const { baseline, variant } = pair.omit({ confidence: true }).parse(input)
  return {
    estimate: rate(variant) - rate(baseline),
    standardError: differenceError(baseline, variant),
    total: baseline.n + variant.n,
  }
}

function watchedMeans(input: unknown) {
  const { baseline, variant } = z.object({ baseline: mean, variant: mean }).parse(input)
  const known = baseline.variance !== null && variant.variance !== null && Math.min(baseline.n, variant.n) > 1
  return {
    estimate: variant.mean - baseline.mean,
    standardError: known ? Math.sqrt((baseline.variance ?? 0) / baseline.n + (variant.variance ?? 0) / variant.n) : null,
    total: baseline.n + variant.n,
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
  const mixture = mixtureFor(plannedTotal, alpha)
  const far = mixtureReach(watched.total, mixture)
  return {
    rhos: mixture.rhos,
    reach: far,
    halfWidth: watched.standardError === 0 ? null : far * watched.standardError,
    interval: mixtureInterval(watched, mixture),
    pValue: mixturePValue(watched, mixture),
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
  const mixture = mixtureFor(plannedTotal, alpha)
  const logs =
    logError === null
      ? null
      : mixtureInterval({ estimate: Math.log(rates[1] / rates[0]), standardError: logError, total }, mixture)
  return {
    ...{ total, rates, difference, lift: relative },
    differenceStandardError: standardError,
    differenceInterval: mixtureInterval({ estimate: difference, standardError, total }, mixture),
    logStandardError: logError,
    liftInterval: logs?.map(Math.expm1) ?? null,
  }
}

const posterior = z.object({
  variants: z.array(outcome),
  prior: z.object({ alpha: z.number(), beta: z.number() }),
})
const bayes = (input: unknown) => {
  const { variants, prior, credibility } = posterior.extend({ credibility: z.number().default(0.95) }).parse(input)
  const { chances, losses } = bestOf(variants, prior)
  const [baseline, ...others] = variants
  return {
    probabilityBest: chances,
    expectedLoss: losses,
    posterior: variants.map((one) => credible(one, credibility, prior)),
    versusBaseline: others.map((one, index) => {
      const against = baseline ?? one
      const { median, interval } = credibleLift(against, one, credibility, prior)
      const beats = bestOf([against, one], prior).chances[1]
      return { variant: index + 1, probabilityBeatsBaseline: beats, liftMedian: median, liftInterval: interval }
    }),
  }
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

const distribution = (input: unknown) => {
  const of = z
    .object({
      function: z.string(),
      ...{ x: z.number().default(0), p: z.number().default(0.5), df: z.number().default(1) },
      ...{ a: z.number().default(1), b: z.number().default(1) },
    })
    .parse(input)
  const found = distributions[of.function]
  if (found === undefined) throw new RangeError(`there is no function “${of.function}”`)
  return { value: found(of) }
}

type Arguments = Readonly<Record<'x' | 'p' | 'df' | 'a' | 'b', number>>
const distributions: Readonly<Record<string, (of: Arguments) => number>> = {
  normalCdf: ({ x }) => normalCdf(x),
  normalQuantile: ({ p }) => normalQuantile(p),
  studentTCdf: ({ x, df }) => studentTCdf(x, df),
  studentTQuantile: ({ p, df }) => studentTQuantile(p, df),
  chiSquareSurvival: ({ x, df }) => chiSquareSurvival(x, df),
  betaCdf: ({ x, a, b }) => betaCdf(x, a, b),
  betaQuantile: ({ p, a, b }) => betaQuantile(p, a, b),
  betaLogPdf: ({ x, a, b }) => betaLogPdf(x, a, b),
  logGamma: ({ x }) => logGamma(x),
}

const meanTest = (input: unknown) => {
  const { baseline, variant, confidence } = z.object({ baseline: mean, variant: mean, confidence: z.number() }).parse(input)
  return { ...compareMeans(baseline, variant, confidence) }
}

const cupedOf = (input: unknown) => {
  const { x, y, group, confidence } = z
    .object({ x: z.array(z.number()), y: z.array(z.number()), group: z.array(z.number().int().min(0)), confidence: z.number() })
    .parse(input)
  if (x.length !== y.length || x.length !== group.length) throw new RangeError('x, y and group must be as long as each other')
  return {
    ...cuped(
      x.map((before, at) => ({ x: before, y: y[at] ?? 0, group: group[at] ?? 0 })),
      confidence,
    ),
  }
}

const multiplicity = (input: unknown) => {
  const { pValues } = z.object({ pValues: z.array(z.number().min(0).max(1)) }).parse(input)
  return { holm: holm(pValues), benjaminiHochberg: adjusted(pValues) }
}

const winsorisedMean = (input: unknown) => {
  const { values, lowerPercentile, upperPercentile } = z
    .object({ values: z.array(z.number()), lowerPercentile: z.number(), upperPercentile: z.number() })
    .parse(input)
  return { ...winsorised(values, lowerPercentile, upperPercentile) }
}

const interactionOf = (input: unknown) => {
  const asked = z
    .discriminatedUnion('kind', [
      z.object({
        kind: z.literal('interaction'),
        cells: z.object({ a0b0: outcome, a0b1: outcome, a1b0: outcome, a1b1: outcome }),
        confidence: z.number(),
      }),
      z.object({
        kind: z.literal('factorial'),
        factors: z.array(z.number().int().min(1)),
        cells: z.array(outcome.extend({ levels: z.array(z.number().int().min(0)) })),
      }),
    ])
    .parse(input)
  return asked.kind === 'interaction'
    ? { ...interaction(asked.cells, asked.confidence) }
    : { factors: mainEffects(asked.factors, asked.cells) }
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

/** By name: what is given, checked, and what is found. */
export const families: Readonly<Record<string, (input: unknown) => Record<string, unknown>>> = {
  wilson: wilsonOf,
  'proportion-test': proportionTest,
  'mean-test': meanTest,
  'ratio-metric': ratioMetric,
  cuped: cupedOf,
  srm: split,
  power,
  multiplicity,
  'bayes-binomial': bayes,
  'asymptotic-confidence-sequence': sequence,
  'mixture-sequence': mixture,
  'sequential-split': sequentialSplit,
  epochs: epochsOf,
  bandit,
  distribution,
  'winsorised-mean': winsorisedMean,
  funnel: funnelOf,
  interaction: interactionOf,
}
