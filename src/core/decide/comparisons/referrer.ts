import * as z from 'zod'
import { comparisonKind, written } from './comparison'

const schema = z.object({
  kind: z.literal('referrer'),
  host: z
    .string()
    .trim()
    .toLowerCase()
    .regex(/^[a-z0-9]([a-z0-9.-]{0,100}[a-z0-9])?$/, 'the name of a site, as in “guild.example”'),
})

export const referrer = comparisonKind(schema, {
  label: 'came from a page of',
  sentence: (comparison) => [written('Site', comparison.host, 100, (to) => ({ ...comparison, host: to.toLowerCase() }))],
  /** The site itself, or a part of it: `guild.example` is also meant by `shop.guild.example`. */
  holds: ({ host }, { beginning }) => {
    const from = beginning.referrer.toLowerCase().replace(/:\d+$/, '')
    return from === host || from.endsWith(`.${host}`)
  },
  begins: () => ({ kind: 'referrer', host: 'guild.example' }),
  remembered: true,
})
