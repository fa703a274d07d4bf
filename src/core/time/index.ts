export { calendarOf, type Calendar, type Day } from './calendar'
export { isTimeZone } from './zone'
