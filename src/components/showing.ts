import type { DocumentId } from '@/core/ids'

/** A document as far as showing others goes: how many components of its own it has, and what it shows, once for each place. */
export interface Showing {
  readonly components: number
  readonly shown: readonly DocumentId[]
}

export type ShowingFault =
  /** The documents on the way, from one back to itself. */
  | { readonly code: 'circle'; readonly way: readonly DocumentId[] }
  /** All that would have to be drawn. */
  | { readonly code: 'tooLarge'; readonly components: number }

/** More than anybody looks at, and less than takes a moment to draw. */
const MOST_DRAWN = 20_000

/** Why a document cannot be drawn: it shows itself by way of others, or far too much; `null` where it can. */
export function showingFault(start: DocumentId, showing: (id: DocumentId) => Showing | null): ShowingFault | null {
  const sizes = new Map<DocumentId, number>()
  const way: DocumentId[] = []
  /** How much is drawn for it, or a circle that was met. */
  const size = (id: DocumentId): number | readonly DocumentId[] => {
    const known = sizes.get(id)
    if (known !== undefined) return known
    const at = way.indexOf(id)
    if (at >= 0) return [...way.slice(at), id]
    const document = showing(id)
    if (document === null) return 0
    way.push(id)
    let sum = document.components
    for (const other of document.shown) {
      const inner = size(other)
      if (typeof inner !== 'number') return inner
      sum += inner
    }
    way.pop()
    sizes.set(id, sum)
    return sum
  }
  const found = size(start)
  if (typeof found !== 'number') return { code: 'circle', way: found }
  return found > MOST_DRAWN ? { code: 'tooLarge', components: found } : null
}
