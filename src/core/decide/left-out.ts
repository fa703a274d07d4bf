import * as z from 'zod'

/** Why somebody is shown the original and counted nowhere; in words, as of those who are. */
export const leftOutWords = {
  bot: 'known bots',
  studioUser: 'people signed in to the studio',
  prefetch: 'pages fetched before anybody asked for them',
  address: 'listed addresses',
  looking: 'people who look at versions by a link from the studio',
  withheld: 'visitors who have not agreed to be counted',
  noConsent: 'browsers that ask not to be followed (Global Privacy Control)',
} as const
export type LeftOut = keyof typeof leftOutWords
export const leftOutReasons = Object.keys(leftOutWords) as readonly LeftOut[]

export const MOST_ADDRESSES = 200

/** Whom a site leaves out of every test and count. Who asks not to be followed never is: that is nobody’s choice here. */
export const leavingOutSchema = z.object({
  bots: z.boolean().default(true),
  studioUsers: z.boolean().default(true),
  prefetches: z.boolean().default(true),
  /** Addresses, and ranges of them (CIDR, RFC 4632). */
  addresses: z
    .array(
      z.union([z.ipv4(), z.ipv6(), z.cidrv4(), z.cidrv6()], {
        error: 'an address such as 192.0.2.7, or a range such as 192.0.2.0/24',
      }),
    )
    .max(MOST_ADDRESSES, `at most ${MOST_ADDRESSES} addresses and ranges`)
    .default([]),
})
export type LeavingOut = z.infer<typeof leavingOutSchema>

/** What visitors are asked before anything is kept of them. */
export const consentSchema = z.object({
  asked: z.boolean().default(false),
  words: z
    .string()
    .trim()
    .min(1, 'say what you ask')
    .max(400)
    .default(
      'May we keep a number in your browser, to see which pages help and which do not? Nothing else is kept, and nobody else gets it.',
    ),
  yes: z.string().trim().min(1).max(40).default('Yes'),
  no: z.string().trim().min(1).max(40).default('No'),
})
export type Consent = z.infer<typeof consentSchema>
