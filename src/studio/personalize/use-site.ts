import type { Output } from '@/contract/contract'
import type { Surroundings } from '@/core/decide'
import { useAround } from '../condition/use-surroundings'
import { useRegions } from '../frame/studio'
import { useAsk } from '../talk'

/** What conditions may speak of, where no page is at hand. */
export function useSite(): Surroundings {
  return useSiteOf(useAsk('segment.list', {}).data)
}

export function useSiteOf(data: Output<'segment.list'> | undefined): Surroundings {
  const regions = useRegions()
  const around = useAround()
  return { regions, ...around, pages: data?.pages ?? [], pageTypes: data?.pageTypes ?? [] }
}
