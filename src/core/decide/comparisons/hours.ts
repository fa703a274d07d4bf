import * as z from 'zod'
import { comparisonKind, numbered } from './comparison'

/** From the beginning of the one hour to that of the other, by the site’s clock; over midnight where the second is earlier. */
const schema = z.object({
  kind: z.literal('hours'),
  from: z.number().int().min(0).max(23),
  to: z.number().int().min(0).max(24),
})

export const hours = comparisonKind(schema, {
  label: 'comes between',
  sentence: (comparison) => [
    numbered('From, in hours', comparison.from, { least: 0, most: 23 }, (from) => ({ ...comparison, from })),
    'and',
    numbered('To, in hours', comparison.to, { least: 0, most: 24 }, (to) => ({ ...comparison, to })),
    'o’clock',
  ],
  holds: ({ from, to }, { moment: { hour } }) => (from < to ? hour >= from && hour < to : hour >= from || hour < to),
  begins: () => ({ kind: 'hours', from: 18, to: 22 }),
  remembered: true,
})
