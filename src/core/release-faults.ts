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

type Ways = Parameters<typeof circleOfRoutes>[0]

/**
 * The circle in which visitors would be sent round, where they are not sent round in one already: one that is there holds up
 * nothing else. Whoever starts and whoever says beforehand whether it can be started ask the same.
 */
export function newCircle(next: Ways, before: Ways | null): string[] | null {
  const circle = circleOfRoutes(next)
  return circle === null || (before !== null && circleOfRoutes(before) !== null) ? null : circle
}

/** “A” to “B” to “A”. */
export function circleWords(circle: readonly string[]): string {
  return circle.map((title) => `“${title}”`).join(' to ')
}

const sendsOn = (edit: Edit) => edit.kind === 'replace' || (edit.kind === 'set' && edit.prop === 'route')

function titleOf(page: ContentDocument | undefined): string | null {
  return page === undefined ? null : String(nodeAt(page, page.root).props.title ?? page.id)
}
