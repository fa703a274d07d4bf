export { doing } from './doing'
export { happeningSchema, reaches, stayedOn, worthOf, type Happening, type VisitorEvent } from './event'
export {
  eventNameSchema,
  goalSchema,
  countsAlike,
  libraryOf,
  markerSchema,
  partsFault,
  partsOfGoal,
  stepId,
  wiringSchema,
  withParts,
  type Goal,
  type Library,
  type Wiring,
  type WiringKind,
} from './goal'
export { sourceOf } from './source'
export {
  cloudEventSchema,
  happenedOutside,
  orderNumberSchema,
  outsideReportSchema,
  reportOfCloudEvent,
  type OutsideReport,
} from './report'
