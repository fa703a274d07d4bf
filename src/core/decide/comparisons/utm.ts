import * as z from 'zod'
import { utmFields } from '../visitor'
import { comparisonKind, oneOf, written } from './comparison'

const schema = z.object({
  kind: z.literal('utm'),
  field: z.enum(utmFields),
  text: z.string().trim().min(1, 'say what the mark says').max(80),
})
const words = {
  source: 'utm_source',
  medium: 'utm_medium',
  campaign: 'utm_campaign',
  term: 'utm_term',
  content: 'utm_content',
} as const

export const utm = comparisonKind(schema, {
  label: 'came by an address marked',
  sentence: (comparison) => [
    oneOf('Mark', comparison.field, words, (field) => ({ ...comparison, field })),
    written('What the mark says', comparison.text, 80, (text) => ({ ...comparison, text })),
  ],
  holds: ({ field, text }, { beginning }) => beginning.utm[field].toLowerCase() === text.toLowerCase(),
  begins: () => ({ kind: 'utm', field: 'medium' as const, text: 'email' }),
  remembered: true,
})
