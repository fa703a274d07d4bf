import { none, type ReadinessCheck } from './check'

interface Found {
  readonly code: 'noQuestion'
}

export const question: ReadinessCheck<Found> = {
  passed: 'The question is written down',
  blocks: none,
  advises: ({ design }) => (design.problem.trim() === '' || design.change.trim() === '' ? [{ code: 'noQuestion' }] : []),
  words: {
    noQuestion: () => ({
      words: 'The question is not written down. Whoever reads the result later will want to know what was asked.',
      settle: { label: 'Write it', step: 'writeQuestion', subject: null },
    }),
  },
}
