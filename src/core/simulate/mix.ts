import * as z from 'zod'
import { sourceOf } from '../events'
import type { SimulatedVisitor } from './visitors'

const share = z.number().min(0).max(1)
const together = (...shares: readonly number[]) => shares.reduce((sum, one) => sum + one, 0) <= 1 + 1e-9

/** Who comes in a rehearsal, as shares of all who do. */
export const mixSchema = z.object({
  devices: z
    .object({ phone: share, tablet: share })
    .refine(({ phone, tablet }) => together(phone, tablet), 'phones and tablets are more than all')
    .default({ phone: 0.58, tablet: 0.07 }),
  /** From a search, from a newsletter, from another site; whoever is left comes directly. */
  sources: z
    .object({ search: share, newsletter: share, elsewhere: share })
    .refine(({ search, newsletter, elsewhere }) => together(search, newsletter, elsewhere), 'these sources are more than all')
    .default({ search: 0.3, newsletter: 0.15, elsewhere: 0.1 }),
  /** The share that lives in one region; the others where visitors usually do. `null`: all of them. */
  region: z
    .object({ code: z.string().min(1).max(10), share })
    .nullable()
    .default(null),
  /** Traffic on a day of the weekend, against one between Monday and Friday. */
  weekends: z.number().min(0).max(5).default(0.83),
  /** Had been on the site before; through the pages: come back on another day. */
  returning: share.default(0),
  /** These are met on pages alone: the counting is never told of them. */
  bots: share.default(0),
  studioUsers: share.default(0),
  /** Of those who are asked whether they may be counted, where the site asks. */
  agree: share.default(1),
})
export type Mix = z.infer<typeof mixSchema>

export const usualMix: Mix = mixSchema.parse({})

/** Where a visit comes from, as a browser tells it. */
export const origins = {
  direct: { host: '', utm: '' },
  search: { host: 'duckduckgo.com', utm: '' },
  newsletter: { host: '', utm: 'newsletter' },
  elsewhere: { host: 'strings.example', utm: '' },
} as const
export type Origin = keyof typeof origins

/** As figures and results say it. */
export const sourceFrom = (origin: Origin): string => sourceOf(origins[origin].host, origins[origin].utm)

/** Who somebody is whom the site leaves out, or may. */
export type Who = 'visitor' | 'bot' | 'studioUser'

/** What the mix makes of somebody; `null` as a home is where visitors usually live. */
export type Mixed = Pick<SimulatedVisitor, 'origin' | 'home' | 'who' | 'returns' | 'agrees'>

/** Somebody of the mix, by lots of their own. */
export function mixed({ sources, region, returning, bots, studioUsers, agree }: Mix, lots: () => number): Mixed {
  const [origin, home, who, returns, agrees] = [lots(), lots(), lots(), lots(), lots()]
  return {
    origin: originOf(sources, origin),
    home: region !== null && home < region.share ? region.code : null,
    who: who < bots ? 'bot' : who < bots + studioUsers ? 'studioUser' : 'visitor',
    returns: returns < returning,
    agrees: agrees < agree,
  }
}

function originOf({ search, newsletter, elsewhere }: Mix['sources'], lot: number): Origin {
  if (lot < search) return 'search'
  if (lot < search + newsletter) return 'newsletter'
  return lot < search + newsletter + elsewhere ? 'elsewhere' : 'direct'
}

/** How much the worth of one order differs from that of another: the deviation of its logarithm. */
export const worthNoises = { same: 0, little: 0.3, much: 0.8, longTail: 1.4 } as const
export type WorthNoise = keyof typeof worthNoises
