import { percent } from '../../numbers'
import { WHOLE } from '../../decide'
import type { VersionId } from '../../ids'
import { freeOf } from '../apart'
import { none, type ReadinessCheck, type ReadinessFacts } from './check'

type Found =
  | { readonly code: 'weightsOff'; readonly total: number }
  | { readonly code: 'weightZero'; readonly version: VersionId }
  | { readonly code: 'shareZero' }
  | { readonly code: 'groupFull'; readonly free: number }

export const split: ReadinessCheck<Found> = {
  passed: 'Split and share add up',
  blocks: splitAddsUp,
  advises: none,
  words: {
    weightsOff: (finding) => ({
      words: `The split adds up to ${percent(finding.total / 10_000)}, not to 100%.`,
      settle: { label: 'Even out the split', step: 'evenSplit', subject: null },
    }),
    weightZero: (finding, names) => ({
      words: `Nobody would see ‘${names.version(finding.version)}’: its part of the split is 0%.`,
      settle: { label: 'Even out the split', step: 'evenSplit', subject: null },
    }),
    groupFull: ({ free }) => ({
      words:
        free === 0
          ? 'Other tests of its group have all visitors: none are free. End one of them first, or take it out of the group.'
          : `Other tests of its group have most visitors: ${percent(free / WHOLE)} are free.`,
      settle: free === 0 ? null : { label: 'Take what is free', step: 'freeShare', subject: String(free) },
    }),
    shareZero: () => ({
      words: 'The share of visitors who take part is 0%.',
      settle: { label: 'Let everybody take part', step: 'wholeShare', subject: null },
    }),
  },
}

function splitAddsUp({ design, takenOfGroup }: ReadinessFacts): Found[] {
  const total = design.arms.reduce((sum, { weight }) => sum + weight, 0)
  const zero = design.arms.filter(({ weight }) => weight === 0).map(({ version }): Found => ({ code: 'weightZero', version }))
  const off: Found[] = total === WHOLE ? [] : [{ code: 'weightsOff', total }]
  const free = freeOf(takenOfGroup)
  const full: Found[] = design.group !== '' && design.share > free ? [{ code: 'groupFull', free }] : []
  return [...off, ...zero, ...full, ...(design.share === 0 ? [{ code: 'shareZero' } as const] : [])]
}
