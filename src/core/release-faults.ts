import { apply, nodeAt, type ContentDocument, type Edit } from './document'
import { changesOf, routeCircle, routeOf } from './experiment'
import type { DocumentId } from './ids'
import type { Release } from './release'

/**
 * The titles of the pages on a way that leads round in a circle, as the site would be: by what pages say themselves, by
 * versions under test, and by rules. `null` where every way ends.
 */
export function circleOfRoutes(release: Pick<Release, 'documents' | 'rounds' | 'personalizations'>): string[] | null {
  const pages = new Map(release.documents.filter(({ kind }) => kind === 'page').map((page) => [page.id, page]))
  const ways = new Map<DocumentId, DocumentId[]>()
  const add = (page: ContentDocument, edits: readonly Edit[]) => {
    const to = routeOf(edits.length === 0 ? page : apply(page, edits).document)
    if (to !== null) ways.set(page.id, [...(ways.get(page.id) ?? []), to])
  }
  for (const page of pages.values()) add(page, [])
  const varied = [
    ...release.rounds.flatMap(({ design, versions }) =>
      design.arms.flatMap(({ version }) => changesOf(design, versions, version)),
    ),
    ...release.personalizations.flatMap(({ document, rules }) => rules.map(({ version: { edits } }) => ({ document, edits }))),
  ]
  for (const { document, edits } of varied) {
    const page = pages.get(document)
    if (page !== undefined && edits.some(sendsOn)) add(page, edits)
  }
  for (const start of ways.keys()) {
    const circle = routeCircle(start, (page) => ways.get(page) ?? [])
    if (circle !== null) return circle.map((id) => titleOf(pages.get(id)) ?? id)
  }
  return null
}

const sendsOn = (edit: Edit) => edit.kind === 'replace' || (edit.kind === 'set' && edit.prop === 'route')

function titleOf(page: ContentDocument | undefined): string | null {
  return page === undefined ? null : String(nodeAt(page, page.root).props.title ?? page.id)
}
