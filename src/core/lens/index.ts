export { agreeing, asVisitor, madeUpSchema, type MadeUp } from './made-up'
export { explained, otherwise, otherwiseWords, toGetRule, type Explained, type Otherwise } from './explain'
