import { useMemo } from 'react'
import type { Surroundings } from '@/core/decide'
import { nodeAt, type ContentDocument } from '@/core/document'
import { titleOf } from '@/components/references'
import { useRegions } from '../frame/studio'
import { useAsk } from '../talk'

const NONE: Surroundings['goals'] = []

/** Goals that conditions may ask for. */
export function useToldGoals(): Surroundings['goals'] {
  return useAsk('goal.told', {}).data?.goals ?? NONE
}

const NO_SEGMENTS: Surroundings['segments'] = []

/** Segments that conditions may name. */
export function useSegmentNames(): Surroundings['segments'] {
  return useAsk('segment.names', {}).data?.segments ?? NO_SEGMENTS
}

/** The site as far as conditions speak of it, from the documents at hand. */
export function useSurroundings(documents: readonly ContentDocument[]): Surroundings {
  const regions = useRegions()
  const goals = useToldGoals()
  const segments = useSegmentNames()
  return useMemo(() => {
    const pages = documents.filter(({ kind }) => kind === 'page')
    const types = pages.map((page) => String(nodeAt(page, page.root).props.pageType ?? 'Page'))
    return {
      regions,
      goals,
      segments,
      pageTypes: [...new Set(types)].sort(),
      pages: pages.map((page) => ({ id: page.id, title: titleOf(page) })),
    }
  }, [documents, regions, goals, segments])
}
