import * as z from 'zod'
import { comparisonKind } from './comparison'

const schema = z.object({
  kind: z.literal('language'),
  language: z.string().regex(/^[a-z]{2,3}$/, 'a language has two or three small letters, as in “cy”'),
})
const names = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'code' })
/** Those that are offered; any other can stand in a file. */
const offered = ['en', 'cy', 'de', 'fr', 'es', 'it', 'nl', 'pl', 'pt', 'ro', 'tr', 'uk', 'ar', 'ur', 'pa', 'bn', 'zh']

export const language = comparisonKind(schema, {
  label: 'reads in',
  sentence: (comparison) => [
    {
      control: 'choice',
      label: 'Language that the browser asks for first',
      value: comparison.language,
      options: [...new Set([...offered, comparison.language])].map((code) => ({ value: code, label: names.of(code) ?? code })),
      put: (to) => ({ ...comparison, language: to }),
    },
  ],
  holds: (comparison, visitor) => visitor.language === comparison.language,
  begins: () => ({ kind: 'language', language: 'en' }),
  remembered: true,
})
