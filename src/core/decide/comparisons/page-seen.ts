import * as z from 'zod'
import { documentIdSchema } from '../../ids'
import { comparisonKind } from './comparison'

const schema = z.object({ kind: z.literal('pageSeen'), page: documentIdSchema })

export const pageSeen = comparisonKind(schema, {
  label: 'saw the page',
  after: ' in this visit',
  words: ({ page }, { titleOf }) => `saw “${titleOf(page)}” in this visit`,
  holds: ({ page }, { pagesSeen }) => pagesSeen.some((seen) => seen.page === page),
  begins: ({ pages: [first] }) => (first === undefined ? null : { kind: 'pageSeen', page: first }),
})
