import { handsOn, placeOf, type ContentDocument } from '../document'
import type { DocumentId } from '../ids'
import { levelsOf, partsOf, type Design, type TestedPart, type Version } from './design'

/** The components that a test lays hands on: with what is taken away, moved or made another, goes all that is in it. */
export function touches(
  design: Design,
  versions: readonly Version[],
  published: ReadonlyMap<DocumentId, ContentDocument>,
): TestedPart[] {
  return partsOf(design).flatMap((part, index) => {
    const { document } = part
    const home = published.get(document)
    const shown = new Set(design.arms.map(({ version }) => levelsOf(design, version)[index]))
    const edited = versions.filter(({ id }) => shown.has(id)).flatMap(({ edits }) => edits)
    return [
      part,
      ...edited
        .flatMap((edit) => (home === undefined ? [placeOf(edit)] : handsOn(home, edit)))
        .map((node) => ({ document, node })),
    ]
  })
}
