import * as z from 'zod'
import { comparisonKind } from './comparison'

const schema = z.object({ kind: z.literal('pageTypeSeen'), pageType: z.string().min(1).max(40) })

export const pageTypeSeen = comparisonKind(schema, {
  label: 'saw a page of type',
  after: ' in this visit',
  words: ({ pageType }) => `saw a page of type ${pageType} in this visit`,
  holds: ({ pageType }, { pagesSeen }) => pagesSeen.some((seen) => seen.pageType === pageType),
  begins: ({ pageTypes: [first = 'Page'] }) => ({ kind: 'pageTypeSeen', pageType: first }),
})
