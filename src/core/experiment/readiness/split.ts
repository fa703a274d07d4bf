import { percent } from '../../numbers'
import { WHOLE } from '../../decide'
import type { VersionId } from '../../ids'
import { none, type ReadinessCheck, type ReadinessFacts } from './check'

type Found =
  | { readonly code: 'weightsOff'; readonly total: number }
  | { readonly code: 'weightZero'; readonly version: VersionId }
  | { readonly code: 'shareZero' }

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
    shareZero: () => ({
      words: 'The share of visitors who take part is 0%.',
      settle: { label: 'Let everybody take part', step: 'wholeShare', subject: null },
    }),
  },
}

function splitAddsUp({ design }: ReadinessFacts): Found[] {
  const total = design.arms.reduce((sum, { weight }) => sum + weight, 0)
  const zero = design.arms.filter(({ weight }) => weight === 0).map(({ version }): Found => ({ code: 'weightZero', version }))
  const off: Found[] = total === WHOLE ? [] : [{ code: 'weightsOff', total }]
  return [...off, ...zero, ...(design.share === 0 ? [{ code: 'shareZero' } as const] : [])]
}
