import * as z from 'zod'
import { comparisonKind, numbered, oneOf } from './comparison'

const bounds = { least: 1, most: 1000 }
const schema = z.object({
  kind: z.literal('visits'),
  are: z.enum(['atLeast', 'atMost']),
  times: z.number().int().min(bounds.least).max(bounds.most),
})

export const visits = comparisonKind(schema, {
  label: 'has come',
  sentence: (comparison) => [
    oneOf('At least or at most', comparison.are, { atLeast: 'at least', atMost: 'at most' }, (are) => ({ ...comparison, are })),
    numbered('Visits, this one counted', comparison.times, bounds, (times) => ({ ...comparison, times })),
    comparison.times === 1 ? 'time, this visit counted' : 'times, this visit counted',
  ],
  holds: ({ are, times }, visitor) => (are === 'atLeast' ? visitor.visits >= times : visitor.visits <= times),
  begins: () => ({ kind: 'visits', are: 'atLeast' as const, times: 3 }),
  remembered: true,
})
