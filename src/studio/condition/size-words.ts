import type { Output } from '@/contract/contract'
import { roughPercent } from '@/core/numbers'
import { count } from '../frame/wording'

/** How many of those who came lately a condition fits. @param would what they would have done, as in “would have taken part” */
export function sizeWords(size: Output<'test.audience'>, would: string): string {
  switch (size.kind) {
    case 'everybody':
      return ''
    case 'unknown':
      return 'How many that is cannot be said beforehand: of something it asks for, no history is kept.'
    case 'share':
      return size.share === 0
        ? `Of ${count(size.of)} visitors of the last 28 days, none ${would}.`
        : `Of the visitors of the last 28 days about ${roughPercent(size.share)} ${would} (${roughPercent(size.interval[0])} to ${roughPercent(size.interval[1])}).`
    default:
      return size satisfies never
  }
}
