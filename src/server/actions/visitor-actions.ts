import { eraseVisitor } from '../ledger/retention'
import { findVisitor, visitorKept } from '../ledger/visitor-view'
import type { Area } from './handler'

/** What is kept of one visitor, for whoever asks for it by right. */
export const visitorActions: Area<'visitor'> = {
  'visitor.show': async ({ db }, { who }) => {
    const visitor = await findVisitor(db, who)
    return visitor === null ? null : visitorKept(db, visitor)
  },

  'visitor.erase': ({ db }, { visitor }) => eraseVisitor(db, visitor),
}
