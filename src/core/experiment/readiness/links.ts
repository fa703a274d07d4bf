import { ORIGINAL } from '../../decide'
import type { DocumentId, VersionId } from '../../ids'
import { deadLinks } from '../shown'
import { openPage, type ReadinessCheck, type ReadinessFacts } from './check'

interface Found {
  readonly code: 'linkDead'
  readonly version: VersionId
  readonly document: DocumentId
  readonly words: string
}

export const links: ReadinessCheck<Found> = {
  passed: 'Every link leads somewhere',
  blocks: (facts) => linksLeadOn(facts, true),
  advises: (facts) => linksLeadOn(facts, false),
  words: {
    linkDead: (finding, names) => ({
      words: `In ‘${names.version(finding.version)}’ ${finding.words === '' ? 'a link without words' : `“${finding.words}”`} on “${names.page(finding.document)}” leads nowhere. Choose where it leads.`,
      settle: openPage,
    }),
  },
}

/** What leads nowhere in a variant is in the way; what did so before is the original's own matter. */
function linksLeadOn({ shown }: ReadinessFacts, worse: boolean): Found[] {
  return deadLinks(shown, ORIGINAL)
    .filter((link) => link.worse === worse)
    .map(({ shown: { version, page }, link }): Found => ({ code: 'linkDead', version, document: page, words: link.words }))
}
