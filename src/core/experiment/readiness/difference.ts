import type { Edit } from '../../document'
import type { VersionId } from '../../ids'
import { none, variantsOf, type ReadinessCheck, type ReadinessFacts } from './check'

interface Found {
  readonly code: 'severalKinds'
  readonly version: VersionId
  readonly kinds: number
}

export const difference: ReadinessCheck<Found> = {
  passed: 'Each variant differs in one kind of thing',
  blocks: none,
  advises: oneKindOfDifference,
  words: {
    severalKinds: (finding, names) => ({
      words: `‘${names.version(finding.version)}’ differs in ${finding.kinds} kinds of things: if it wins, nobody knows which of them did it.`,
      settle: null,
    }),
  },
}

function oneKindOfDifference(facts: ReadinessFacts): Found[] {
  return variantsOf(facts).flatMap(({ version: { id: version, edits } }): Found[] => {
    const kinds = kindsOfDifference(edits)
    return kinds > 1 ? [{ code: 'severalKinds', version, kinds }] : []
  })
}

/** Several edits of one kind to one place, such as three new items in a menu, are one kind of difference. */
export function kindsOfDifference(edits: readonly Edit[]): number {
  return new Set(edits.map((edit) => (edit.kind === 'set' ? `${edit.node}.${edit.prop}` : edit.kind))).size
}
