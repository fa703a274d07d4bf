import * as z from 'zod'
import { comparisonKind } from './comparison'

/** A country (ISO 3166-1), or a part of one (ISO 3166-2). */
const schema = z.object({
  kind: z.literal('region'),
  region: z.string().regex(/^[A-Z]{2}(-[A-Z0-9]{1,3})?$/, 'a region has a code of ISO 3166, as in “GB” or “GB-WLS”'),
})
const countries = new Intl.DisplayNames(['en'], { type: 'region', fallback: 'code' })

export const region = comparisonKind(schema, {
  label: 'is in',
  sentence: (comparison, { regions }) => {
    const own = [...new Set(regions.map(({ code }) => code.slice(0, 2)))].map((code) => {
      const name = countries.of(code) ?? code
      return { value: code, label: name === code ? `anywhere in ${code}` : name }
    })
    const known = [...regions.map(({ code, name }) => ({ value: code, label: name })), ...own]
    const isKnown = known.some(({ value }) => value === comparison.region)
    return [
      {
        control: 'choice',
        label: 'Region',
        value: comparison.region,
        options: isKnown ? known : [...known, { value: comparison.region, label: comparison.region }],
        put: (to) => ({ ...comparison, region: to }),
      },
    ]
  },
  holds: (comparison, visitor) =>
    visitor.region === comparison.region || visitor.region?.startsWith(`${comparison.region}-`) === true,
  begins: ({ regions: [first] }) => (first === undefined ? null : { kind: 'region', region: first.code }),
  remembered: true,
})
