export { bucket, WHOLE } from './bucket'
export {
  comparisonSchema,
  conditionSchema,
  devices,
  joins,
  matches,
  type Comparison,
  type Condition,
  type Device,
} from './condition'
export { armAt, decide, ORIGINAL, type Arm, type Decision, type Draw, type Ladder, type Reason } from './decide'
export type { LeftOut, Visitor } from './visitor'
