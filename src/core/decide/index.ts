export { allowedOf, attributeSchema, attributesSchema, type Attribute } from './attributes'
export { bucket, mixed, numberOf, unitOf, WHOLE, type Unit } from './bucket'
export { comparisonNamed, comparisonNames, comparisonSchema, type Comparison, type ComparisonName } from './comparisons'
export type { Option, Surroundings, Word } from './comparisons/comparison'
export {
  comparisonsIn,
  conditionSchema,
  conditionWords,
  EVERYBODY,
  fitting,
  isForEverybody,
  isForNobody,
  joins,
  matches,
  type Condition,
} from './condition'
export {
  armAt,
  armFor,
  decide,
  isByKept,
  isHeldAt,
  keepings,
  keepingWords,
  keptArm,
  keptAsOf,
  numberOfGroup,
  numberOfHoldout,
  numbersOf,
  ORIGINAL,
  ruleAt,
  rungFor,
  unitFor,
  type Arm,
  type Decision,
  type Draw,
  type Keeping,
  type Ladder,
  type Numbers,
  type Reason,
} from './decide'
export {
  consentSchema,
  leavingOutSchema,
  leftOutReasons,
  leftOutWords,
  MOST_ADDRESSES,
  type Consent,
  type LeavingOut,
  type LeftOut,
} from './left-out'
export { resolved, segmentSchema, segmentsIn, withSegments, type Segment } from './segments'
export {
  devices,
  noUtm,
  straight,
  stranger,
  utmFields,
  type Beginning,
  type Device,
  type Moment,
  type RememberedPage,
  type SeenPage,
  type Utm,
  type UtmField,
  type Visitor,
} from './visitor'
