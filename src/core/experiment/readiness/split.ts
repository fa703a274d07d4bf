import { percent } from '../../numbers'
import { WHOLE } from '../../decide'
import type { VersionId } from '../../ids'
import { freeOf } from '../apart'
import type { ReadinessCheck, ReadinessFacts } from './check'

type Found =
  | { readonly code: 'weightsOff'; readonly total: number }
  | { readonly code: 'weightZero'; readonly version: VersionId }
  | { readonly code: 'shareZero' }
  | { readonly code: 'groupFull'; readonly free: number; readonly by: readonly string[] }
  | { readonly code: 'groupTaken'; readonly fair: number; readonly others: number }

export const split: ReadinessCheck<Found> = {
  passed: 'Split and share add up',
  blocks: splitAddsUp,
  advises: leavesNothing,
  words: {
    weightsOff: (finding) => ({
      words: `The split adds up to ${percent(finding.total / 10_000)}, not to 100%.`,
      settle: { label: 'Even out the split', step: 'evenSplit', subject: null },
    }),
    weightZero: (finding, names) => ({
      words: `Nobody would see ‘${names.version(finding.version)}’: its part of the split is 0%.`,
      settle: { label: 'Even out the split', step: 'evenSplit', subject: null },
    }),
    groupFull: ({ free, by }) => ({
      words:
        free === 0
          ? `Other tests of its group have all visitors: none are free. End one of them first, take this one out of the group, or lower the share of ${namesOf(by)}: that begins its next round, with empty counts.`
          : `Other tests of its group have most visitors: ${percent(free / WHOLE)} are free. For more, lower the share of ${namesOf(by)}: that begins its next round, with empty counts.`,
      settle: free === 0 ? null : { label: 'Take what is free', step: 'freeShare', subject: String(free) },
    }),
    groupTaken: ({ fair, others }) => ({
      words:
        others === 0
          ? 'It takes all visitors of its group: as long as it runs, no other test of the group can.'
          : `It takes all visitors of its group that are free: the ${others === 1 ? 'other test' : `${others} other tests`} of the group cannot run beside it.`,
      settle: { label: 'Divide evenly', step: 'fairShare', subject: String(fair) },
    }),
    shareZero: () => ({
      words: 'The share of visitors who take part is 0%.',
      settle: { label: 'Let everybody take part', step: 'wholeShare', subject: null },
    }),
  },
}

function namesOf(tests: readonly string[]): string {
  return tests.length === 0 ? 'one of them' : tests.map((name) => `“${name}”`).join(' or ')
}

/** The part of a group’s visitors that a test has where all that want one have the same. */
export function fairShare({ ofGroup, takenOfGroup }: Pick<ReadinessFacts, 'ofGroup' | 'takenOfGroup'>): number {
  // Alone, it leaves room for one more.
  return Math.min(freeOf(takenOfGroup), Math.floor(WHOLE / Math.max(2, ofGroup.length + 1)))
}

function leavesNothing(facts: ReadinessFacts): Found[] {
  const { design, takenOfGroup, ofGroup } = facts
  const free = freeOf(takenOfGroup)
  const fair = fairShare(facts)
  if (design.group === '' || design.share !== free || free === 0 || fair === free) return []
  return [{ code: 'groupTaken', fair, others: ofGroup.filter(({ isLive }) => !isLive).length }]
}

function splitAddsUp({ design, takenOfGroup, ofGroup }: ReadinessFacts): Found[] {
  const total = design.arms.reduce((sum, { weight }) => sum + weight, 0)
  const zero = design.arms.filter(({ weight }) => weight === 0).map(({ version }): Found => ({ code: 'weightZero', version }))
  const off: Found[] = total === WHOLE ? [] : [{ code: 'weightsOff', total }]
  const free = freeOf(takenOfGroup)
  const full: Found[] =
    design.group !== '' && design.share > free
      ? [{ code: 'groupFull', free, by: ofGroup.filter(({ isLive }) => isLive).map(({ name }) => name) }]
      : []
  return [...off, ...zero, ...full, ...(design.share === 0 ? [{ code: 'shareZero' } as const] : [])]
}
