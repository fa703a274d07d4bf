export {
  ancestorsOf,
  commonAncestor,
  documentKinds,
  documentSchema,
  MOST_CHILDREN,
  propNameSchema,
  propValueSchema,
  subtreeSchema,
  nodeAt,
  parentOf,
  subtree,
  treeFault,
  walk,
  type ContentDocument,
  type ContentNode,
  type DocumentKind,
  type Props,
  type PropValue,
  type Subtree,
} from './document'
export {
  apply,
  applyEdit,
  changedBy,
  describe,
  handsOn,
  inShort,
  invert,
  placeOf,
  propsBroughtBy,
  reachOf,
  withProps,
  type Applied,
} from './edit'
export { editSchema, editsSchema, type Edit } from './edits'
export type { Refusal } from './edits/kind'
export { collide, compare, sameValue } from './compare'
export { fitOf, type Fit, type Fitted } from './taking-over'
export { gathered } from './gather'
export { withFreshIds } from './fresh-ids'
export type { Vocabulary } from './vocabulary'
