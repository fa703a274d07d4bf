import { apply } from '../../document'
import type { DocumentId, VersionId } from '../../ids'
import { routeOf } from '../routes'
import { none, openPage, variantsOf, type ReadinessCheck, type ReadinessFacts } from './check'

type Found =
  | { readonly code: 'routeGone'; readonly version: VersionId }
  | { readonly code: 'routeForgotten' }
  | { readonly code: 'routeLoops'; readonly version: VersionId; readonly document: DocumentId }
  | { readonly code: 'routeCircle'; readonly circle: readonly string[] }

export const route: ReadinessCheck<Found> = {
  passed: 'Nobody is sent round in a circle',
  blocks: (facts) => [...routeLeadsOn(facts), ...routeEnds(facts), ...routeIsKept(facts)],
  advises: none,
  words: {
    routeForgotten: () => ({
      words:
        'A variant sends visitors to another page, where nobody would know them if each view is drawn anew. Keep the version for this visit at least.',
      settle: null,
    }),
    routeGone: (finding, names) => ({
      words: `‘${names.version(finding.version)}’ sends visitors to a page that is not published. Publish that page, or choose another.`,
      settle: openPage,
    }),
    routeCircle: ({ circle }) => ({
      words: `With the tests and rules that are live, visitors would be sent round in a circle: ${circle.map((title) => `“${title}”`).join(' to ')}. Change where one of these sends its visitors.`,
      settle: openPage,
    }),
    routeLoops: (finding, names) => ({
      words: `‘${names.version(finding.version)}’ sends visitors to “${names.page(finding.document)}”, which sends them on again. Choose a page that shows itself.`,
      settle: openPage,
    }),
  },
}

/** A variant that sends visitors to another page: the page is there, and does not send them on or back. */
function routeLeadsOn(facts: ReadinessFacts): Found[] {
  return variantsOf(facts).flatMap(({ version: { id: version, edits }, document }): Found[] => {
    const home = facts.published.get(document)
    if (home === undefined) return []
    const target = routeOf(apply(home, edits).document)
    if (target === null) return []
    const other = facts.published.get(target)
    if (other === undefined) return [{ code: 'routeGone', version }]
    return target === document || routeOf(other) !== null ? [{ code: 'routeLoops', version, document: target }] : []
  })
}

/** Together with what runs already every way ends. */
function routeEnds({ shown }: ReadinessFacts): Found[] {
  return shown.circle === null ? [] : [{ code: 'routeCircle', circle: shown.circle }]
}

/** The page that it leads to has to know who was sent. */
function routeIsKept(facts: ReadinessFacts): Found[] {
  if (facts.design.keeping !== 'view') return []
  const leads = variantsOf(facts).some(({ version: { edits }, document }) => {
    const home = facts.published.get(document)
    return home !== undefined && routeOf(apply(home, edits).document) !== null
  })
  return leads ? [{ code: 'routeForgotten' }] : []
}
