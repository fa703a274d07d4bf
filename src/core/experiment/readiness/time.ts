import { waitingWords, type Waiting } from '../waiting'
import { none, type ReadinessCheck } from './check'

interface Found {
  readonly code: 'takesLong'
  readonly waiting: Waiting
}

/** Longer than this an answer is a long time coming. */
const REASONABLE = 56

export const time: ReadinessCheck<Found> = {
  passed: 'An answer comes in reasonable time',
  blocks: none,
  advises: ({ forecast }) =>
    forecast === null || (forecast.waiting.kind === 'days' && forecast.waiting.days <= REASONABLE)
      ? []
      : [{ code: 'takesLong', waiting: forecast.waiting }],
  words: {
    takesLong: ({ waiting }) => ({
      words:
        waiting.kind === 'unknown'
          ? 'This page has no visitors yet, so no answer would come.'
          : waiting.kind === 'tooFew'
            ? 'There are too few visitors here to decide this. The forecast says what would help.'
            : `With the visitors of the last two weeks an answer takes ${waitingWords(waiting)}. A larger difference worth having, or fewer variants, would be quicker.`,
      settle: null,
    }),
  },
}
