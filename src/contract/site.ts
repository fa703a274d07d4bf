import * as z from 'zod'
import { documentKinds } from '@/core/document'
import { statuses } from '@/core/experiment'
import { documentIdSchema, nodeIdSchema, roundIdSchema, testIdSchema } from '@/core/ids'
import { accountView, asks, listOf, nothing, pageStates, paging, share, when } from './action'
import { servedView } from './documents'
import { testLine } from './tests'

export const pageLine = z.object({
  id: documentIdSchema,
  title: z.string(),
  path: z.string(),
  pageType: z.string(),
  state: z.enum(pageStates),
  tests: z.array(z.object({ id: testIdSchema, name: z.string(), status: z.enum(statuses) })),
  personalized: z.number(),
  views: z.number(),
  visitors: z.number(),
  updatedAt: when,
  updatedBy: z.string(),
})
export type PageLine = z.infer<typeof pageLine>

export const siteFigures = z.object({
  /** Oldest first. Of a page, `visitors` are those who had not seen it before, and `visits` those that began on it. */
  days: z.array(z.object({ day: z.string(), visitors: z.number(), views: z.number(), visits: z.number(), bounced: z.number() })),
  sources: z.array(share),
  devices: z.array(share),
  pages: z.array(
    z.object({ id: documentIdSchema, title: z.string(), views: z.number(), visits: z.number(), bounced: z.number() }),
  ),
})
export type SiteFigures = z.infer<typeof siteFigures>

/** A page, or a step of a funnel, from which visitors do not go on: what lies there, and what a test could find in four weeks. */
export const nextPlace = z.object({
  kind: z.enum(['page', 'step']),
  /** The page’s or the funnel’s id; its name, or that of the step; a page’s address, or the funnel’s name; the step after it. */
  id: z.string(),
  name: z.string(),
  path: z.string(),
  next: z.string(),
  came: z.number(),
  lost: z.number(),
  in: z.enum(['points', 'money']),
  atStake: z.number(),
  share: z.number(),
  seen: z.number().nullable(),
  brings: z.number().nullable(),
})
export type NextPlace = z.infer<typeof nextPlace>

/** Something of the site that was looked for, and where it is opened. */
export const foundThing = z.object({
  kind: z.enum([...documentKinds, 'part', 'test', 'goal']),
  name: z.string(),
  /** Where it stands or how it is, in a few words. */
  about: z.string(),
  address: z.string(),
})
export type FoundThing = z.infer<typeof foundThing>

/** A rule that does worse than the original, and the part that it is on. */
const worseRule = z.object({
  round: roundIdSchema,
  document: documentIdSchema,
  node: nodeIdSchema,
  title: z.string(),
  part: z.string(),
  sentence: z.string(),
})

export const siteActions = {
  'session.read': asks(nothing, accountView),
  'today.read': asks(
    nothing,
    z.object({
      tests: z.array(testLine),
      changedPages: z.array(z.object({ id: documentIdSchema, title: z.string(), by: z.string(), at: when })),
      /** Rules that are live and do worse than the original. */
      worseRules: z.array(worseRule),
      visitorsToday: z.number(),
      viewsToday: z.number(),
      visitorsNow: z.number(),
      counting: z.object({ waiting: z.number(), setAside: z.number(), lastEventAt: when.nullable(), jobsWell: z.boolean() }),
    }),
  ),
  /** Documents, parts, tests and goals with these words; without words, what was changed last. */
  'find.things': asks(z.object({ words: z.string().max(120) }), z.object({ found: z.array(foundThing) })),
  /** The newest release, what each site process really serves, and what of it could not be made. */
  'site.serving': asks(
    nothing,
    z.object({
      served: z.array(servedView),
      release: z.object({ number: z.number(), reason: z.string(), at: when, by: z.string() }).nullable(),
    }),
  ),
  /** Who came in the last 28 days, whatever is tested: to the whole site, or to one page. */
  'site.figures': asks(z.object({ document: documentIdSchema.nullable().default(null) }), siteFigures),
  /** Which numbers hold made-up people, as this is or was a demonstration site. */
  'site.madeUp': asks(nothing, z.object({ any: z.boolean(), tests: z.array(testIdSchema), calls: z.array(documentIdSchema) })),
  /** Where a test would pay most, by the last 28 days: the whole site, or one page. */
  'site.next': asks(
    z.object({ document: documentIdSchema.nullable().default(null) }),
    z.object({ places: z.array(nextPlace), currency: z.string() }),
  ),
  'site.read': asks(
    z.object({ ...paging, campaign: z.string().max(120).default('') }),
    listOf(pageLine).extend({
      others: z.array(
        z.object({
          id: documentIdSchema,
          kind: z.enum(documentKinds),
          title: z.string(),
          state: z.enum(pageStates),
          usedOn: z.array(z.string()),
          tests: z.number(),
        }),
      ),
    }),
  ),
}
