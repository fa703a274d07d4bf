import * as z from 'zod'
import { comparisonKind, oneOf } from './comparison'

const schema = z.object({ kind: z.literal('returning'), returning: z.boolean() })
const words = { new: 'for the first time', returning: 'again' } as const

export const returning = comparisonKind(schema, {
  label: 'is here',
  sentence: (comparison) => [
    oneOf('First visit or not', comparison.returning ? 'returning' : 'new', words, (to) => ({
      ...comparison,
      returning: to === 'returning',
    })),
  ],
  holds: (comparison, { visits }) => visits > 1 === comparison.returning,
  begins: () => ({ kind: 'returning', returning: false }),
  remembered: true,
})
