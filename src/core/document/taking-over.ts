import { collide, compare } from './compare'
import type { ContentDocument } from './document'
import { applyEdit } from './edit'
import type { Edit } from './edits'

/**
 * What becomes of an edit that was made to a document as it was then: `fits`; `clashes`, as the same place was changed since
 * and that would be overwritten; `there`, as somebody has done the same; `unfit`, as what it changes is gone.
 */
export type Fit = 'fits' | 'clashes' | 'there' | 'unfit'

export interface Fitted {
  /** Among the edits given. */
  readonly index: number
  readonly edit: Edit
  readonly fit: Fit
  /** Of one that clashes, what was done to the same place since. */
  readonly since: readonly Edit[]
}

/**
 * Each edit by itself against what is published now, in their order: one that is taken is there for those after it.
 *
 * @param then the document that the edits were made to @param now as it is now
 */
export function fitOf(then: ContentDocument, now: ContentDocument, edits: readonly Edit[]): Fitted[] {
  const done = then.root === now.root ? compare(then, now) : []
  let document = now
  return edits.map((edit, index) => {
    const outcome = applyEdit(document, edit)
    if (!outcome.applied) return { index, edit, fit: 'unfit', since: [] }
    const changesNothing = JSON.stringify(outcome.document) === JSON.stringify(document)
    document = outcome.document
    if (changesNothing) return { index, edit, fit: 'there', since: [] }
    const since = done.filter((one) => collide(then, [edit], [one]))
    return { index, edit, fit: since.length > 0 ? 'clashes' : 'fits', since }
  })
}
