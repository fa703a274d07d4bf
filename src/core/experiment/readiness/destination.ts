import { ORIGINAL } from '../../decide'
import type { VersionId } from '../../ids'
import { changesOf } from '../design'
import { newAddresses } from '../shown'
import { kindsOfDifference } from './difference'
import { none, type ReadinessCheck, type ReadinessFacts } from './check'

interface Found {
  readonly code: 'leadsElsewhere'
  readonly version: VersionId
  readonly address: string
  /** Where it leads is all that differs. */
  readonly alone: boolean
}

export const destination: ReadinessCheck<Found> = {
  passed: 'Variants lead to the same place as the original',
  blocks: none,
  advises: sameDestination,
  words: {
    leadsElsewhere: (finding, names) => ({
      words: finding.alone
        ? `‘${names.version(finding.version)}’ leads to ${finding.address}, where the original does not. That is fine where it is what you want to compare.`
        : `‘${names.version(finding.version)}’ looks different and leads to another place too (${finding.address}): if it wins, nobody knows which of the two did it.`,
      settle: null,
    }),
  },
}

/** A variant that leads to another page than the original measures two things at once, or just that. */
function sameDestination(facts: ReadinessFacts): Found[] {
  return facts.design.arms
    .map(({ version }) => version)
    .filter((version) => version !== ORIGINAL)
    .flatMap((version): Found[] => {
      const [address] = newAddresses(facts.shown, version, ORIGINAL)
      if (address === undefined) return []
      const edits = changesOf(facts.design, facts.versions, version).flatMap(({ edits: of }) => of)
      return [{ code: 'leadsElsewhere', version, address, alone: kindsOfDifference(edits) === 1 }]
    })
}
