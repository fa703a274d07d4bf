import { ORIGINAL } from '../../decide'
import type { DocumentId, VersionId } from '../../ids'
import { blankPages } from '../shown'
import { leaveOut, none, openPage, variantsOf, type ReadinessCheck, type ReadinessFacts } from './check'

type Found =
  | { readonly code: 'addressChanged'; readonly version: VersionId }
  | { readonly code: 'notLooked'; readonly fault: string }
  | { readonly code: 'pageBlank'; readonly version: VersionId; readonly document: DocumentId }

export const page: ReadinessCheck<Found> = {
  passed: 'Every version shows the page where it was',
  blocks: pageIsThere,
  advises: none,
  words: {
    notLooked: (finding) => ({
      words: `The pages could not be looked at: ${finding.fault} Open the test again in a moment.`,
      settle: null,
    }),
    addressChanged: (finding, names) => ({
      words: `‘${names.version(finding.version)}’ changes the address of the page. A page has one address for all its visitors: take that edit back.`,
      settle: openPage,
    }),
    pageBlank: (finding, names) => ({
      words: `“${names.page(finding.document)}” shows nothing in ‘${names.version(finding.version)}’. Bring something back, or leave the variant out.`,
      settle: finding.version === ORIGINAL ? openPage : leaveOut(finding.version),
    }),
  },
}

/** The page stays where it is, and shows something. */
function pageIsThere(facts: ReadinessFacts): Found[] {
  const moved = variantsOf(facts).filter(
    ({ version, document }) =>
      facts.published.get(document)?.kind === 'page' &&
      version.edits.some(
        (edit) => edit.kind === 'set' && edit.prop === 'path' && edit.node === facts.published.get(document)?.root,
      ),
  )
  const { fault } = facts.shown
  return [
    ...(fault === null ? [] : [{ code: 'notLooked', fault } as const]),
    ...moved.map(({ version }): Found => ({ code: 'addressChanged', version: version.id })),
    ...blankPages(facts.shown).map(({ page, version }): Found => ({ code: 'pageBlank', version, document: page })),
  ]
}
