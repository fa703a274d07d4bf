import * as z from 'zod'
import { comparisonKind, oneOf, written } from './comparison'

/** As figures and results say it (`sourceOf`). */
const schema = z.object({ kind: z.literal('source'), source: z.string().trim().min(1, 'say where from').max(40) })
const ways = {
  search: 'a search',
  social: 'where people write to each other',
  'other site': 'another site',
  direct: 'nowhere else: straight here',
} as const
type Way = keyof typeof ways
const isWay = (text: string): text is Way => Object.hasOwn(ways, text)

export const source = comparisonKind(schema, {
  label: 'came from',
  sentence: (comparison) => {
    const own = !isWay(comparison.source)
    return [
      oneOf('Where from', own ? 'named' : (comparison.source as Way), { ...ways, named: 'a source named' }, (to) => ({
        ...comparison,
        source: to === 'named' ? 'letter' : to,
      })),
      ...(own
        ? [written('Name of the source (utm_source)', comparison.source, 40, (to) => ({ ...comparison, source: to }))]
        : []),
    ]
  },
  holds: (comparison, { beginning }) => beginning.source.toLowerCase() === comparison.source.toLowerCase(),
  begins: () => ({ kind: 'source', source: 'search' }),
  remembered: true,
})
