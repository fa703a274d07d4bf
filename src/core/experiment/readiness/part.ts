import type { DocumentId } from '../../ids'
import { partsOf } from '../design'
import { none, type ReadinessCheck, type ReadinessFacts } from './check'

type Found =
  | { readonly code: 'partUnpublished'; readonly document: DocumentId; readonly pagePublished: boolean }
  | { readonly code: 'partNowhere'; readonly document: DocumentId }

export const part: ReadinessCheck<Found> = {
  passed: 'The tested part is on a published page',
  blocks: partIsPublished,
  advises: none,
  words: {
    partUnpublished: (finding, names) =>
      finding.pagePublished
        ? {
            words: 'The tested part is in the draft but not on the published page. Publish the page first.',
            settle: { label: 'Publish the page', step: 'publishPage', subject: finding.document },
          }
        : {
            words: `“${names.page(finding.document)}” is not published, so nobody would see the test.`,
            settle: { label: 'Publish the page', step: 'publishPage', subject: finding.document },
          },
    partNowhere: (finding, names) => ({
      words: `“${names.page(finding.document)}” stands on no published page, so nobody would see the test. Put it on a page first.`,
      settle: { label: 'Open it', step: 'openPage', subject: null },
    }),
  },
}

function partIsPublished({ design, published, places }: ReadinessFacts): Found[] {
  return partsOf(design).flatMap(({ document, node }): Found[] => {
    const home = published.get(document)
    if (home?.nodes[node] === undefined) return [{ code: 'partUnpublished', document, pagePublished: home !== undefined }]
    return home.kind === 'page' || (places.get(document) ?? 0) > 0 ? [] : [{ code: 'partNowhere', document }]
  })
}
