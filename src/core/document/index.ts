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
export { apply, applyEdit, editSchema, editsSchema, invert, type Applied, type Edit, type Refusal } from './edit'
export { collide, compare, reachOf, sameValue } from './compare'
export { gathered } from './gather'
export { withFreshIds } from './fresh-ids'
export { describe, inShort, type Vocabulary } from './describe'
