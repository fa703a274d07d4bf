export { funnel, type FunnelStep } from './funnel'
export { normalCdf, normalQuantile, criticalValue, twoSided } from './normal'
export { rate, type Interval, type Outcome } from './outcome'
export { differenceError, katz, lift, logRatioError, newcombe, pooledTest, wilson } from './proportion'
export { detectable, detectableAt, powerOf, sampleSize, type Plan } from './power'
export { allocation, bestOf, UNIFORM, type Prior } from './bayes'
export { standardise, standardiseMeasures, type Standardised, type Stratum } from './epochs'
export {
  mixtureInterval,
  mixturePValue,
  mixtureReach,
  reach,
  sequenceInterval,
  sequencePValue,
  tuning,
  tunings,
  type Watched,
} from './sequence'
export { adjusted, cochranQ, type Estimate } from './heterogeneity'
export { splitCheck, splitEvidence } from './split'
export { compareRatios, ratioOf, ratioVariance, type PairMoments, type RatioComparison } from './ratio'
