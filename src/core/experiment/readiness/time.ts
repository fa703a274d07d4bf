import { count } from '../../numbers'
import { none, type ReadinessCheck } from './check'

interface Found {
  readonly code: 'takesLong'
  readonly days: number | null
}

/** More days than anybody waits for an answer. */
export const MOST_DAYS = 180

export const time: ReadinessCheck<Found> = {
  passed: 'An answer comes in reasonable time',
  blocks: none,
  advises: ({ forecast }) =>
    forecast === null || (forecast.days !== null && forecast.days <= 56) ? [] : [{ code: 'takesLong', days: forecast.days }],
  words: {
    takesLong: (finding) => ({
      words:
        finding.days === null
          ? 'This page has no visitors yet, so no answer would come.'
          : finding.days > MOST_DAYS
            ? 'There are too few visitors here to decide this. A larger difference worth having, fewer variants, or a goal nearer to the part would help.'
            : `With the visitors of the last 28 days an answer takes about ${count(finding.days)} days. A larger difference worth having, or fewer variants, would be quicker.`,
      settle: null,
    }),
  },
}
