import * as z from 'zod'
import { comparisonKind } from './comparison'

/** The page that is asked for: so that what stands on many pages is varied on all of a type at once, and nowhere else. */
const schema = z.object({ kind: z.literal('onPageType'), pageType: z.string().min(1).max(60) })

export const onPageType = comparisonKind(schema, {
  label: 'is on',
  sentence: (comparison, { pageTypes }) => [
    'a page of type',
    {
      control: 'choice',
      label: 'Type of the page that is looked at',
      value: comparison.pageType,
      options: [...new Set([...pageTypes, comparison.pageType])].map((value) => ({ value, label: value })),
      put: (pageType) => (pageTypes.includes(pageType) ? { ...comparison, pageType } : null),
    },
  ],
  holds: ({ pageType }, { at }) => at?.pageType === pageType,
  begins: ({ pageTypes: [pageType] }) => (pageType === undefined ? null : { kind: 'onPageType', pageType }),
  remembered: false,
})
