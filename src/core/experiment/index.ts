export {
  armName,
  armSchema,
  changeWords,
  changesOf,
  combinationId,
  combinations,
  designSchema,
  evenWeights,
  goalsOf,
  levelsInUse,
  levelsOf,
  MOST_ARMS,
  moveBorder,
  partSchema,
  partsOf,
  roundSchema,
  versionSchema,
  versionsInUse,
  whatAffects,
  whatBegins,
  whatChanged,
  type Change,
  type Design,
  type DesignArm,
  type TestedPart,
  type Round,
  type Version,
} from './design'
export { mondayOf, mostAtOnce, placeIn, weeksFrom, type Run } from './weeks'
export { commands, isOpenToChange, next, statuses, statusWords, transitions, type Command, type Status } from './lifecycle'
export {
  allChecks,
  findingWords,
  passedWords,
  readiness,
  type Check,
  type Finding,
  type Readiness,
  type ReadinessFacts,
  type Settling,
} from './readiness'
export {
  BY_RULE,
  gainPlanSchema,
  gainRound,
  isAsPublished,
  ladderOf,
  personalizationSchema,
  renewed,
  roundsIn,
  USUAL_PLAN,
  type GainPlan,
  type Personalization,
  type Renewed,
} from './personalization'
export { routeCircle, routeOf } from './routes'
export { touches } from './touches'
export type { Names } from './names'
export { ruleReach, type RuleReach } from './rule-reach'
export { overlaps, type Overlap } from './overlap'
export { behaviourOf, spotsOf, type Behaviour, type DoingRow, type Spot, type VersionBehaviour } from './behaviour'
export { effectsByAge, type AgeEffect } from './ages'
export { alarmsOf, type Alarm } from './trust'
export {
  chanceOfGain,
  FEWEST_TESTS,
  kindsOf,
  likelyGain,
  type KindOfTests,
  type PastTest,
  type Prior,
  type ShrunkTest,
} from './base-rates'
export { besideOthers, besideWords, type Beside, type BesideCounts } from './beside'
export { steadied, steadiedWords, type EarlierCounts, type SteadiedVariant } from './earlier'
export { effectsOfParts, type LevelEffect, type LevelPair, type PartsResult } from './part-effects'
export { slowerWords, speedWords } from './speed-words'
export { audienceByDay, audienceSize, shareOf, type AudienceSize } from './audience'
export { drawnAgain, drawOf, generationAfter, keptKey, testKeptAs } from './draw-of'
export { freeOf, sizeOf, takeLots, type Lots } from './apart'
export { armsEver, epochsOf, laterEpochSchema, roundNow, type Epoch, type LaterEpoch } from './epochs'
export { chanceToSee, forecast, trafficAmong, type Forecast, type Help, type Traffic } from './forecast'
export { countsFor, looksOf, type CountedRow, type DayCounts, type Look, type Weighing } from './looks'
export { resultOfRound, resultsOfRound, wholeReading, type RoundCounts, type WorthRow, type RoundResult } from './round-result'
export { RECENT_DAYS, visitorsToSee, waitingFor, waitingSentence, waitingWords, type Waiting } from './waiting'
export {
  leader,
  LEVEL,
  read,
  readings,
  readThrough,
  type ArmCounts,
  type Evidence,
  type Reading,
  type Result,
  type VariantResult,
  type Wait,
} from './reading'
export { between, guardSentence, manners, readingWords, sentence, variantSentence, type Manner, type Telling } from './words'
export { MOST_NOTED, noteOfSegments, notedSegments } from './noted-segments'
export { bySegment, traitWords, type Divided, type SegmentCounts, type TraitResult } from './segments'
export {
  byDay,
  byGoal,
  byKind,
  byRound,
  countedAs,
  divisions,
  divisionWords,
  isNarrowable,
  narrowedIn,
  narrowedText,
  type CountedOn,
  type Division,
  type Narrowed,
} from './divisions'
export { suggestionsFrom, type Suggestion } from './suggestions'
export { freeName } from './free-name'
export {
  contrast,
  illegibleAnew,
  illegibleIn,
  illegibleWords,
  widthOf,
  type DrawnText,
  type Illegibility,
  type Illegible,
  type Paint,
} from './legibility'
export { comparedIn, effectsOn, effectWords, leavingAsItIs, outcomes, waysOut, type Effect, type Outcome } from './resting'
export type { SameByRule, Shown, ShownLink, ShownPage } from './shown'
export { unreachable, type Unreachable } from './reachable'
export { readGuard, type GuardReading, type GuardResult } from './guard'
export { deeds, lastByItself, type Deed } from './by-itself'
export { adaptedWeights, decidesItself, dueByClock, nobodySaw, stopsBy, type OwnDecision } from './schedule'
export {
  ADAPT_EVERY,
  adaptiveSchema,
  clockTimeSchema,
  scheduleSchema,
  stopRuleSchema,
  type Adaptive,
  type Schedule,
  type StopRule,
} from './schedule-schema'
export { readWorth, type WorthCounts, type WorthResult } from './worth'
export { stakeOf, type Loss, type Stake } from './where-next'
