export { funnel, type FunnelStep } from './funnel'
export { normalCdf, normalQuantile, criticalValue, twoSided } from './normal'
export { rate, type Interval, type Outcome } from './outcome'
export { differenceError, katz, koopman, lift, logRatioError, newcombe, pooledTest, wilson } from './proportion'
export { detectable, detectableAt, powerOf, sampleSize, type Plan } from './power'
export { rootOf } from './root'
export { allocation, bestOf, credible, credibleLift, UNIFORM, type Prior } from './bayes'
export { standardise, standardiseMeasures, type Standardised, type Stratum } from './epochs'
export {
  errorsForPower,
  mixtureFor,
  mixtureInterval,
  mixturePower,
  mixturePValue,
  mixtureReach,
  reach,
  sequenceInterval,
  sequencePValue,
  tuning,
  type Mixture,
  type Watched,
} from './sequence'
export { adjusted, cochranQ, holm, type Estimate } from './heterogeneity'
export { betaCdf, betaLogPdf, betaQuantile, chiSquareSurvival, logGamma, studentTCdf, studentTQuantile } from './distributions'
export { compareMeans, type MeanComparison, type Moments } from './mean'
export { cuped, type AdjustedComparison, type AdjustedGroup, type Unit } from './cuped'
export { winsorised } from './winsorised'
export { interaction, mainEffects, type Cells, type FactorialCell } from './interaction'
export { splitCheck, splitEvidence } from './split'
export { compareRatios, ratioOf, ratioVariance, type PairMoments, type RatioComparison } from './ratio'
export { partEffects, type CombinationCell, type PairEffect, type PartEffect } from './factorial'
