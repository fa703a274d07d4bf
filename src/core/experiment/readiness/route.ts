import { apply } from '../../document'
import type { DocumentId, VersionId } from '../../ids'
import { routeOf } from '../routes'
import { none, openPage, variantsOf, type ReadinessCheck, type ReadinessFacts } from './check'

type Found =
  | { readonly code: 'routeGone'; readonly version: VersionId }
  | { readonly code: 'routeLoops'; readonly version: VersionId; readonly document: DocumentId }

export const route: ReadinessCheck<Found> = {
  passed: 'Nobody is sent round in a circle',
  blocks: routeLeadsOn,
  advises: none,
  words: {
    routeGone: (finding, names) => ({
      words: `‘${names.version(finding.version)}’ sends visitors to a page that is not published. Publish that page, or choose another.`,
      settle: openPage,
    }),
    routeLoops: (finding, names) => ({
      words: `‘${names.version(finding.version)}’ sends visitors to “${names.page(finding.document)}”, which sends them on again: they would go round in a circle. Choose a page that shows itself.`,
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
