import { conditionSchema } from '@/core/decide'
import * as z from 'zod'
import { mishaps, mixSchema, worthNoises, type WorthNoise } from '@/core/simulate'
import { documentKinds } from '@/core/document'
import { armSchema, deeds, designSchema, partSchema, readings, scheduleSchema, statuses, versionSchema } from '@/core/experiment'
import { goalSchema } from '@/core/goals'
import { documentIdSchema, goalIdSchema, roundIdSchema, testIdSchema, versionIdSchema, nodeIdSchema } from '@/core/ids'
import { asks, edits, goesLive, listOf, lock, miniatureView, nothing, paging, when } from './action'

export const armView = z.object({
  version: versionIdSchema,
  exposed: z.number(),
  converters: z.number(),
  rate: z.number().nullable(),
})

export const waitingView = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('days'), days: z.number() }),
  z.object({ kind: z.literal('tooFew'), visitors: z.number() }),
  z.object({ kind: z.literal('unknown') }),
])

/** What happens to a test without anybody pressing anything. */
export const newsView = z.object({ kind: z.enum(deeds), at: when, words: z.string() })

export const testLine = z.object({
  id: testIdSchema,
  name: z.string(),
  status: z.enum(statuses),
  page: z.string(),
  problem: z.string(),
  campaign: z.string(),
  goal: z.string().nullable(),
  readiness: z.object({ blocks: z.number(), advises: z.number() }).nullable(),
  /** The reading in a sentence, live; `null` before the first round. */
  sentence: z.string().nullable(),
  reading: z.enum(readings).nullable(),
  evidence: z.array(z.object({ day: z.string(), lower: z.number(), upper: z.number() })),
  exposed: z.number(),
  /** Until the difference worth having would be seen. */
  waiting: waitingView,
  /** Why it can draw nobody any more, although it runs; `null` where it can. */
  drawsNobody: z.string().nullable(),
  /** By the site’s clock. */
  schedule: scheduleSchema,
  news: newsView.nullable(),
  startedAt: when.nullable(),
  settledAt: when.nullable(),
})
export type TestLine = z.infer<typeof testLine>

/** A finding of readiness with its words and, where one exists, the step that settles it. */
export const findingView = z.object({
  code: z.string(),
  words: z.string(),
  settle: z.object({ label: z.string(), step: z.string(), subject: z.string().nullable() }).nullable(),
})
export type FindingView = z.infer<typeof findingView>

export const rehearsalPlan = z.object({
  visitors: z.number().int().min(100, 'at least 100 visitors').max(200_000, 'at most 200,000 visitors'),
  days: z.number().int().min(1).max(90),
  seed: z.number().int().min(0).max(2_000_000_000),
  /** The true rate of each version, and what is the matter with it that nobody has noticed. */
  rates: z
    .array(
      z.object({
        version: versionIdSchema,
        rate: z.number().min(0).max(1),
        mishap: z.enum(mishaps).default('none'),
        /** Of goals that are counted besides; a goal of which nothing is said is reached by nobody. */
        others: z
          .array(z.object({ goal: goalIdSchema, rate: z.number().min(0).max(1) }))
          .max(30)
          .default([]),
      }),
    )
    .min(2),
  /** Straight to the counting; or through the pages, forms and reports as visitors get and make them. */
  through: z.enum(['counting', 'pages']).default('counting'),
  mix: mixSchema.prefault({}),
  /** What an order is worth in the mean, and how much one differs from another. */
  worth: z
    .object({ mean: z.number().min(0).max(1_000_000), noise: z.enum(Object.keys(worthNoises) as [WorthNoise]) })
    .default({ mean: 40, noise: 'little' }),
})
/** A page costs more than a count. */
export const MOST_THROUGH_PAGES = 5000
export type RehearsalPlan = z.infer<typeof rehearsalPlan>

export const rehearsalView = z.object({
  id: z.number(),
  test: testIdSchema,
  testName: z.string(),
  plan: rehearsalPlan,
  status: z.enum(['waiting', 'running', 'done', 'cancelled', 'failed']),
  sent: z.number(),
  message: z.string(),
  /** What was found on the way through the pages; `null` of one that went straight to the counting. */
  found: z
    .object({
      pages: z.number(),
      /** To whom a version of the test was shown. */
      shown: z.number(),
      bots: z.number(),
      /** People who are signed in to the studio, and those who did not agree to be counted. */
      studioUsers: z.number().default(0),
      withheld: z.number().default(0),
      cameBack: z.number(),
      wrong: z.array(z.object({ version: versionIdSchema.nullable(), words: z.string(), times: z.number() })),
    })
    .nullable(),
  by: z.string(),
  at: when,
  versions: z.array(z.object({ id: versionIdSchema, name: z.string() })),
})
export type RehearsalView = z.infer<typeof rehearsalView>

export const decisionView = z.object({
  kind: z.enum(['keep', 'take']),
  version: versionIdSchema,
  versionName: z.string(),
  reason: z.string(),
  lesson: z.string(),
  sentence: z.string(),
  reading: z.enum(readings),
  by: z.string(),
  at: when,
  undone: z.boolean(),
})
export type DecisionView = z.infer<typeof decisionView>

/** Of the logarithm of the ratio to the original, for a variant of some kind. */
export const priorView = z.object({ mean: z.number(), deviation: z.number() })

/** Under what a test is found again; each once. */
export const tagsSchema = z
  .array(z.string().trim().min(1, 'a tag has 1 to 30 letters').max(30, 'a tag has 1 to 30 letters'))
  .max(8)
export const noteView = z.object({ at: when, by: z.string(), words: z.string() })
export type NoteView = z.infer<typeof noteView>

/** A version of a tested part: with what it changes in words, edit by edit, and drawn. */
const drawnVersion = versionSchema.extend({ words: z.array(z.string()), miniature: miniatureView })
export type DrawnVersion = z.infer<typeof drawnVersion>

export const testView = z.object({
  id: testIdSchema,
  status: z.enum(statuses),
  lock,
  design: designSchema,
  versions: z.array(drawnVersion),
  page: z.object({ title: z.string(), path: z.string() }),
  /** The tested parts, in their order, each with the document it is in and on how many published pages that is shown. */
  parts: z.array(
    z.object({
      words: z.string(),
      title: z.string(),
      kind: z.enum(documentKinds),
      places: z.number(),
      miniature: miniatureView,
    }),
  ),
  /** Rules that are live on its parts, by their names in their order: they come first, and the test’s changes on top. */
  ruled: z.array(z.object({ document: documentIdSchema, node: nodeIdSchema, rules: z.array(z.string()) })),
  /** Versions of the parts that are not in the test yet. */
  free: z.array(drawnVersion.extend({ part: z.number() })),
  goals: z.array(goalSchema),
  currency: z.string(),
  pages: z.array(z.object({ id: documentIdSchema, title: z.string(), path: z.string(), published: z.boolean() })),
  pageTypes: z.array(z.string()),
  /** Groups of tests that are kept apart, by their names. */
  groups: z.array(z.string()),
  /** Other tests of its group, with their parts of its visitors in basis points. */
  ofGroup: z.array(z.object({ name: z.string(), share: z.number(), isLive: z.boolean() })),
  /** Of everybody, whoever takes part. */
  traffic: z.object({ visitorsPerDay: z.number(), recent: z.array(z.number()), baseRate: z.number().nullable() }),
  blocks: z.array(findingView),
  advises: z.array(findingView),
  /** The pages are being looked at: what is to be said of them comes in a moment. */
  looking: z.boolean(),
  passed: z.array(z.string()),
  /** Goals that it counts as they were when its round began, and that have been changed since. */
  asBefore: z.array(z.string()),
  /** Why it can draw nobody any more, although it runs; `null` where it can. */
  drawsNobody: z.string().nullable(),
  rounds: z.array(
    z.object({
      id: roundIdSchema,
      number: z.number(),
      startedAt: when,
      endedAt: when.nullable(),
      because: z.string(),
      epochs: z.array(z.object({ since: when, because: z.string() })),
    }),
  ),
  rehearsals: z.array(rehearsalView),
  decision: decisionView.nullable(),
  /** Of earlier runs, newest first. */
  earlier: z.array(decisionView),
  news: newsView.nullable(),
  notes: z.array(noteView),
  tags: z.array(z.string()),
  /** What past tests of the same kind did; `null` for fewer than three. */
  past: z.object({ kind: z.string(), tests: z.number(), paid: z.number(), prior: priorView }).nullable(),
})
export type TestView = z.infer<typeof testView>

/** How many of those who came lately would take part. */
export const audienceView = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('everybody') }),
  z.object({ kind: z.literal('unknown') }),
  z.object({
    kind: z.literal('share'),
    share: z.number(),
    interval: z.tuple([z.number(), z.number()]).readonly(),
    of: z.number(),
    /** How many are being read to say it more exactly; `null` where all have been. */
    awaited: z.number().nullable().optional(),
  }),
])

/** What a change to a test that runs begins: an epoch of its round, or the next round. */
const begins = z.enum(['epoch', 'round'])

const calendarLine = z.object({
  id: testIdSchema,
  name: z.string(),
  status: z.enum(statuses),
  changedAt: when,
  document: documentIdSchema,
  page: z.string(),
  runs: z.array(z.object({ from: when, to: when.nullable(), isPlanned: z.boolean() })),
})

export const testActions = {
  /** Tests that run in these weeks, or are planned to; from a Monday, by the site’s days. */
  'test.calendar': asks(
    z.object({ from: z.iso.date().regex(/^20/, 'a day of this century'), weeks: z.number().int().min(1).max(26) }),
    z.object({ from: when, to: when, today: z.iso.date(), lines: z.array(calendarLine) }),
  ),
  /** Where a calendar program finds the same. */
  'test.calendarAddress': asks(nothing, z.object({ address: z.string() })),
  /** The one before is not valid any more. */
  'test.newCalendarAddress': edits(nothing, z.object({ address: z.string() })),
  'test.audience': asks(z.object({ audience: conditionSchema }), audienceView),
  'test.list': asks(
    z.object({
      ...paging,
      status: z.enum(statuses).nullable().default(null),
      campaign: z.string().max(120).default(''),
      /** By the name of whoever made it. */
      person: z.string().max(120).default(''),
      /** What it varies. */
      part: z.enum(documentKinds).nullable().default(null),
    }),
    // How many draw visitors, and who made tests, whatever the list is narrowed to.
    listOf(testLine).extend({ running: z.number(), people: z.array(z.string()) }),
  ),
  /** Of a sample of those who came in the last week, how many met no running test, one, two … */
  'test.capacity': asks(nothing, z.object({ met: z.array(z.number()) })),
  'test.open': asks(z.object({ test: testIdSchema }), testView),
  'test.create': edits(z.object({ parts: z.array(partSchema).min(1).max(4) }), z.object({ test: testIdSchema })),
  /** Changes the split, turns a variant off or adds one, while the test runs: in one step. */
  'test.change': goesLive(
    z.object({ test: testIdSchema, arms: z.array(armSchema).min(2), share: designSchema.shape.share.optional() }),
    z.object({ release: z.number(), begins, number: z.number() }),
  ),
  'test.save': edits(z.object({ test: testIdSchema, lock, design: designSchema }), z.object({ lock })),
  'test.remove': edits(z.object({ test: testIdSchema }), nothing),
  'test.start': goesLive(z.object({ test: testIdSchema, lock }), z.object({ release: z.number() })),
  /** To start by itself, at the time that its design says. */
  'test.schedule': goesLive(z.object({ test: testIdSchema, lock }), nothing),
  'test.unschedule': goesLive(z.object({ test: testIdSchema }), nothing),
  /** Makes a draft again of what has ended; a start then opens the next round, with empty counts. */
  'test.again': edits(z.object({ test: testIdSchema }), nothing),
  'test.pause': goesLive(z.object({ test: testIdSchema }), z.object({ release: z.number() })),
  'test.goOn': goesLive(z.object({ test: testIdSchema, lock }), z.object({ release: z.number(), begins: begins.nullable() })),
  /** Closes the round that runs and opens the next: to count by the goals as they are now, or only with empty counts. */
  'test.nextRound': goesLive(
    z.object({ test: testIdSchema, because: z.enum(['goals', 'anew']).default('goals') }),
    z.object({ release: z.number() }),
  ),
  'test.end': goesLive(z.object({ test: testIdSchema }), z.object({ release: z.number() })),
  /** A link to the live site with this test’s versions in it, live or not; it holds for a week and is never counted. */
  /** The links that hold now, and taking one of them back, or all. */
  'test.looks': asks(
    z.object({ test: testIdSchema }),
    z.object({ looks: z.array(z.object({ number: z.number(), by: z.string(), madeAt: when, until: when })) }),
  ),
  'test.takeLooksBack': edits(
    z.object({ test: testIdSchema, number: z.number().int().nullable().default(null) }),
    z.object({ taken: z.number() }),
  ),
  'test.look': edits(z.object({ test: testIdSchema }), z.object({ address: z.string() })),
  /**
   * The test’s first page as each version would show it, the original first; nothing where no page shows the test. Whoever
   * asks says which state of the test is meant, so that what was drawn before a change is not taken for it.
   */
  'test.drawn': asks(
    z.object({ test: testIdSchema, lock }),
    z.object({
      page: z.string(),
      shows: z.array(z.object({ version: versionIdSchema, name: z.string(), html: z.string() })),
    }),
  ),
  'test.preview': asks(
    z.object({ test: testIdSchema, version: versionIdSchema }),
    z.object({
      /** Edit by edit, as each would go onto what is published now. */
      edits: z.array(
        z.object({
          document: documentIdSchema,
          index: z.number(),
          words: z.string(),
          fit: z.enum(['fits', 'clashes', 'there', 'unfit']),
          /** Of one that clashes, what was done to the same place since. */
          since: z.array(z.string()),
        }),
      ),
      /** Of each document that changes, its title and how many published pages show it. */
      documents: z.array(z.object({ id: documentIdSchema, title: z.string(), places: z.number() })),
      /** Versions that leave the page, by their names; they stay with the test. */
      leaving: z.array(z.string()),
    }),
  ),
  'test.decide': goesLive(
    z.object({
      test: testIdSchema,
      version: versionIdSchema,
      reason: z.string().max(2000),
      lesson: z.string().max(4000).default(''),
      /** Edits of the variant that are not taken, as somebody has changed the same place since. */
      without: z
        .array(z.object({ document: documentIdSchema, index: z.number().int().min(0) }))
        .max(500)
        .default([]),
    }),
    z.object({ release: z.number(), unfit: z.array(z.string()) }),
  ),
  'test.note': edits(
    z.object({ test: testIdSchema, words: z.string().trim().min(1, 'write something down').max(2000) }),
    nothing,
  ),
  'test.tag': edits(z.object({ test: testIdSchema, tags: tagsSchema }), nothing),
  'test.undo': goesLive(z.object({ test: testIdSchema }), z.object({ release: z.number(), unfit: z.array(z.string()) })),
  'rehearsal.start': edits(z.object({ test: testIdSchema, plan: rehearsalPlan }), z.object({ id: z.number() })),
  'rehearsal.list': asks(z.object({ test: testIdSchema.nullable() }), z.object({ rehearsals: z.array(rehearsalView) })),
  'rehearsal.cancel': edits(z.object({ id: z.number().int() }), nothing),
}
