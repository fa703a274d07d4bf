export { bucket, WHOLE } from './bucket'
export { comparisonSchema, EVERYBODY, conditionSchema, joins, matches, type Comparison, type Condition } from './condition'
export { armAt, decide, ORIGINAL, type Arm, type Decision, type Draw, type Ladder, type Reason } from './decide'
export { devices, type Device, type LeftOut, type Visitor } from './visitor'
