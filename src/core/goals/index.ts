export { credit, enrolmentAfter, type Change, type CountedRound, type Enrolment } from './credit'
export { reaches, type VisitorEvent } from './event'
export { goalSchema, wiringSchema, type Goal, type Wiring } from './goal'
