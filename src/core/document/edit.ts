import type { NodeId } from '../ids'
import { walk, type ContentDocument, type Props } from './document'
import { kindOf, type Edit } from './edits'
import type { EditOutcome, Refusal } from './edits/kind'
import type { Vocabulary } from './vocabulary'

/** Applies one edit and says which edit takes it back. Never throws on content. */
export function applyEdit(document: ContentDocument, edit: Edit): EditOutcome {
  return kindOf(edit).apply(document, edit)
}

export interface Applied {
  readonly document: ContentDocument
  /** Edits that no longer fit, with the reason, in their order. */
  readonly refused: readonly { readonly edit: Edit; readonly refusal: Refusal }[]
  /** Applied in this order, they take back all that was applied. */
  readonly undo: readonly Edit[]
}

/** Applies edits in order; what no longer fits is passed over and listed. Total: any edits, any document. */
export function apply(document: ContentDocument, edits: readonly Edit[]): Applied {
  const refused: { edit: Edit; refusal: Refusal }[] = []
  const undo: Edit[] = []
  let now = document
  for (const edit of edits) {
    const outcome = applyEdit(now, edit)
    if (outcome.applied) {
      now = outcome.document
      undo.unshift(outcome.undo)
    } else refused.push({ edit, refusal: outcome.refusal })
  }
  return { document: now, refused, undo }
}

/** The edits that take `edits` back from `apply(document, edits)`. */
export function invert(document: ContentDocument, edits: readonly Edit[]): readonly Edit[] {
  return apply(document, edits).undo
}

/** The part of the page in which these edits can be seen: the lowest node that holds everything they touch. */
export function reachOf(document: ContentDocument, edits: readonly Edit[]): NodeId[] {
  return edits.flatMap((edit) => (isHere(document, edit) ? kindOf(edit).reach(document, edit) : []))
}

/** The components that an edit lays hands on: with what is taken away, moved or made another, goes all that is in it. */
export function handsOn(document: ContentDocument, edit: Edit): readonly NodeId[] {
  const { at, takesInside } = kindOf(edit)
  return takesInside && isHere(document, edit) ? walk(document, at(edit)) : [at(edit)]
}

/** The component that an edit changes, or into which it puts something. */
export function placeOf(edit: Edit): NodeId {
  return kindOf(edit).at(edit)
}

/** The components that are no longer as they were, themselves or in the order of what they hold. */
export function changedBy(document: ContentDocument, edit: Edit): readonly NodeId[] {
  return kindOf(edit).changes(document, edit)
}

/** An edit with other properties, where it brings any: of a component of this type, as far as that is known. */
export function withProps(
  document: Pick<ContentDocument, 'nodes'>,
  edit: Edit,
  change: (type: string | undefined, props: Props) => Props,
): Edit {
  return kindOf(edit).withProps(document, edit, change)
}

/** All properties that edits bring, whatever they are applied to. */
export function propsBroughtBy(edits: readonly Edit[]): Props[] {
  const found: Props[] = []
  for (const edit of edits)
    withProps({ nodes: {} }, edit, (_, props) => {
      found.push(props)
      return props
    })
  return found
}

/** An edit as a sentence without a subject: “changes the words of heading “Play it first” to “…””. */
export function describe(document: ContentDocument, edit: Edit, words: Vocabulary): string {
  return kindOf(edit).words(document, edit, words)
}

/** The kinds of difference in a few words, for a place with little room: “words · colour”. */
export function inShort(document: ContentDocument, edits: readonly Edit[], words: Vocabulary): string {
  return [...new Set(edits.map((edit) => kindOf(edit).short(document, edit, words)))].join(' · ')
}

function isHere(document: ContentDocument, edit: Edit): boolean {
  return document.nodes[kindOf(edit).at(edit)] !== undefined
}
