import type { Condition } from '@/core/decide'
import { useAsk } from '../talk'

/** How many of those who came lately this is for; asked again only when it is changed. */
export function useAudience(audience: Condition) {
  return useAsk('test.audience', { audience }, { keepLast: true })
}
