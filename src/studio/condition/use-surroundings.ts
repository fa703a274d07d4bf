import { useMemo } from 'react'
import type { Surroundings } from '@/core/decide'
import { nodeAt, type ContentDocument } from '@/core/document'
import { titleOf } from '@/components/references'
import { useRegions } from '../frame/studio'
import { useAsk } from '../talk'

type Around = Pick<Surroundings, 'segments' | 'goals' | 'attributes' | 'tests'>
const NOTHING: Around = { segments: [], goals: [], attributes: [], tests: [] }

/** What conditions may speak of besides pages and regions. */
export function useAround(): Around {
  return useAsk('segment.around', {}).data ?? NOTHING
}

/** The site as far as conditions speak of it, from the documents at hand. */
export function useSurroundings(documents: readonly ContentDocument[]): Surroundings {
  const regions = useRegions()
  const around = useAround()
  return useMemo(() => {
    const pages = documents.filter(({ kind }) => kind === 'page')
    const types = pages.map((page) => String(nodeAt(page, page.root).props.pageType ?? 'Page'))
    return {
      regions,
      ...around,
      pageTypes: [...new Set(types)].sort(),
      pages: pages.map((page) => ({ id: page.id, title: titleOf(page) })),
    }
  }, [documents, regions, around])
}
