import type { Condition } from '@/core/decide'
import { useAsk } from '../talk'

const CLOSER_EVERY = 700

/** How many of those who came lately this is for: asked again when it is changed, and while more of them are read. */
export function useAudience(audience: Condition) {
  const every = (last: ReturnType<typeof useAsk<'test.audience'>>['data']) =>
    last?.kind === 'share' && last.awaited != null ? CLOSER_EVERY : false
  return useAsk('test.audience', { audience }, { keepLast: true, every })
}
