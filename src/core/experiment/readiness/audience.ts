import { isForNobody } from '../../decide'
import { none, type ReadinessCheck } from './check'

interface Found {
  readonly code: 'audienceNobody'
}

export const audience: ReadinessCheck<Found> = {
  passed: 'Somebody can take part',
  blocks: ({ design }) => (isForNobody(design.audience) ? [{ code: 'audienceNobody' }] : []),
  advises: none,
  words: {
    audienceNobody: () => ({
      words: 'Nobody can take part: no visitor could ever be what “Who takes part” asks for. Change a condition, or take it out.',
      settle: { label: 'Let everybody take part', step: 'everybody', subject: null },
    }),
  },
}
