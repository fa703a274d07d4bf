import { nodeAt, type ContentDocument } from '../document'
import type { DocumentId } from '../ids'

/** The page that a page sends its visitors to; `null` where it shows itself. */
export function routeOf(page: ContentDocument): DocumentId | null {
  const { route } = nodeAt(page, page.root).props
  const to = typeof route === 'string' ? /^page:([a-z0-9-]+)/.exec(route)?.[1] : undefined
  return to === undefined ? null : (to as DocumentId)
}

/**
 * The pages on the way, where visitors of one could be sent on and on and come back.
 *
 * @param next where each page sends its visitors: by itself, in a version of a test, or for some of them
 */
export function routeCircle(start: DocumentId, next: (page: DocumentId) => readonly DocumentId[]): DocumentId[] | null {
  const done = new Set<DocumentId>()
  const follow = (page: DocumentId, way: readonly DocumentId[]): DocumentId[] | null => {
    if (way.includes(page)) return [...way.slice(way.indexOf(page)), page]
    if (done.has(page)) return null
    for (const to of next(page)) {
      const circle = follow(to, [...way, page])
      if (circle !== null) return circle
    }
    done.add(page)
    return null
  }
  return follow(start, [])
}
