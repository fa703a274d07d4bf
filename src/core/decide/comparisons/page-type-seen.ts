import * as z from 'zod'
import { comparisonKind } from './comparison'
import { pagesWithin, seenWithin, withinWord } from './seen'

const schema = z.object({ kind: z.literal('pageTypeSeen'), pageType: z.string().min(1).max(40), within: seenWithin.optional() })

export const pageTypeSeen = comparisonKind(schema, {
  label: 'saw a page of type',
  sentence: (comparison, { pageTypes }) => [
    {
      control: 'choice',
      label: 'Page type',
      value: comparison.pageType,
      options: [...new Set([...pageTypes, comparison.pageType])].map((type) => ({ value: type, label: type })),
      put: (pageType) => ({ ...comparison, pageType }),
    },
    withinWord(comparison.within, (within) => ({ ...comparison, within })),
  ],
  holds: ({ pageType, within }, visitor) => pagesWithin(within, visitor).some((seen) => seen.pageType === pageType),
  begins: ({ pageTypes: [first = 'Page'] }) => ({ kind: 'pageTypeSeen', pageType: first }),
  remembered: true,
})
