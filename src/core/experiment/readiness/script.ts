import type { VersionId } from '../../ids'
import { openPage, type ReadinessCheck } from './check'

type Found =
  { readonly code: 'scriptsOff'; readonly version: VersionId } | { readonly code: 'hasScript'; readonly version: VersionId }

export const script: ReadinessCheck<Found> = {
  passed: 'No variant brings a script of its own',
  blocks: ({ scripts }) => (scripts.allowed ? [] : scripts.versions.map((version) => ({ code: 'scriptsOff', version }))),
  advises: ({ scripts }) => (scripts.allowed ? scripts.versions.map((version) => ({ code: 'hasScript', version })) : []),
  words: {
    scriptsOff: (finding, names) => ({
      words: `‘${names.version(finding.version)}’ brings a script, and scripts are switched off for this site. An administrator can allow them, or the script can be taken back.`,
      settle: { label: 'Open the settings', step: 'allowScripts', subject: null },
    }),
    hasScript: (finding, names) => ({
      words: `‘${names.version(finding.version)}’ runs a script of its own. Read it once more: it can do whatever the page can, and a slow one costs the variant visitors.`,
      settle: openPage,
    }),
  },
}
