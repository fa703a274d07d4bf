export type { Beginnings, Doing, GoalNames, Need } from './kinds/kind'
export { stayedOn } from './kinds/no-bounce'
export { kindNamed, kindOf, wiringKinds, wiringSchema, type Wiring, type WiringKind } from './kinds'
export {
  countsAlike,
  goalSchema,
  libraryOf,
  needOf,
  partsFault,
  partsOfGoal,
  stepId,
  withParts,
  type Goal,
  type Library,
} from './goal'
export { carriersOf, lackOf, pagesThat, placesOf } from './places'
export { doing, reaches, worthOf } from './reach'
export {
  cloudEventSchema,
  happenedOutside,
  orderNumberSchema,
  outsideReportSchema,
  reportOfCloudEvent,
  type CloudEvent,
  type OutsideReport,
} from './from-elsewhere'
