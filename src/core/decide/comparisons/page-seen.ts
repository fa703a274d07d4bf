import * as z from 'zod'
import { documentIdSchema } from '../../ids'
import { comparisonKind } from './comparison'
import { pagesWithin, seenWithin, withinWord } from './seen'

const schema = z.object({ kind: z.literal('pageSeen'), page: documentIdSchema, within: seenWithin.optional() })

export const pageSeen = comparisonKind(schema, {
  label: 'saw the page',
  sentence: (comparison, { pages }) => [
    {
      control: 'choice',
      label: 'Page',
      value: comparison.page,
      quoted: true,
      options: [
        ...pages.map(({ id, title }) => ({ value: id, label: title })),
        ...(pages.some(({ id }) => id === comparison.page) ? [] : [{ value: comparison.page, label: 'a page that is gone' }]),
      ],
      put: (to) => {
        const page = pages.find(({ id }) => id === to)
        return page === undefined ? null : { ...comparison, page: page.id }
      },
    },
    withinWord(comparison.within, (within) => ({ ...comparison, within })),
  ],
  holds: ({ page, within }, visitor) => pagesWithin(within, visitor).some((seen) => seen.page === page),
  begins: ({ pages: [first] }) => (first === undefined ? null : { kind: 'pageSeen', page: first.id }),
  remembered: true,
})
