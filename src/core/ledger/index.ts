export { doings, speedClass, speedIn, speeds, type Doing, type Speed } from './doings'
export { pasts, type Past } from './before'
export { worthClass, worthUpTo } from './worth-class'
export { SEGMENT, traits, type Trait } from './traits'
export { books, Sums, type BookName, type KeyOf, type Row, type SumOf } from './rows'
export { countedRound, isOpen, rulesAt, type CountedRound, type Rules, type SiteRules, type Span } from './rules'
export { rememberedVisitor } from './remembered'
export { SITE, subjects } from './site-book'
export {
  fold,
  foldInto,
  isLate,
  keptVisitor,
  recount,
  unknownVisitor,
  visitorSchema,
  nothingCounted,
  type Arrived,
  type First,
  type History,
  type Known,
  type Scope,
  type VisitorState,
} from './visitor'
