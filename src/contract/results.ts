import * as z from 'zod'
import { readings } from '@/core/experiment'
import { goalIdSchema, roundIdSchema, segmentIdSchema, testIdSchema, versionIdSchema } from '@/core/ids'
import { traits } from '@/core/ledger'
import { asks, edits, interval, listOf, nothing, paging, when } from './action'
import { armView, decisionView, waitingView } from './tests'

const segmentArm = z.object({
  version: versionIdSchema,
  exposed: z.number(),
  converters: z.number(),
  rate: z.number().nullable(),
  interval: z.tuple([z.number(), z.number()]).readonly().nullable(),
})

/** A result by a segment that has a name. */
const namedView = z.object({
  id: segmentIdSchema,
  name: z.string(),
  within: z.array(segmentArm).readonly(),
  outside: z.array(segmentArm).readonly(),
  differing: z.array(versionIdSchema).readonly(),
})
export type NamedView = z.infer<typeof namedView>

/** A result by one thing that is known of visitors. */
export const traitView = z.object({
  trait: z.enum(traits),
  values: z
    .array(
      z.object({
        value: z.string(),
        words: z.string(),
        arms: z.array(segmentArm).readonly(),
      }),
    )
    .readonly(),
  differing: z.array(versionIdSchema).readonly(),
  comparable: z.boolean(),
})
export type TraitView = z.infer<typeof traitView>

export const resultView = z.object({
  round: roundIdSchema,
  roundNumber: z.number(),
  source: z.number(),
  goal: z.object({ id: goalIdSchema, name: z.string(), primary: z.boolean() }),
  sentence: z.string(),
  rates: z.array(
    z.object({
      version: versionIdSchema,
      name: z.string(),
      assigned: z.number(),
      exposed: z.number(),
      converters: z.number(),
      rate: z.number().nullable(),
      interval,
    }),
  ),
  variants: z.array(
    z.object({
      version: versionIdSchema,
      name: z.string(),
      reading: z.enum(readings),
      words: z.string(),
      lift: z.number().nullable(),
      liftInterval: interval,
      pValue: z.number().nullable(),
      once: z.object({ lift: interval, difference: z.tuple([z.number(), z.number()]), pValue: z.number() }).nullable(),
    }),
  ),
  /** Of being the best, and what choosing it would lose on average, as a difference of rates. */
  chances: z.array(z.object({ version: versionIdSchema, name: z.string(), chance: z.number(), loss: z.number() })).nullable(),
  /** Until the difference worth having would be seen. */
  waiting: waitingView,
  split: z.object({ assigned: z.number(), exposed: z.number(), trusted: z.boolean() }),
  guards: z.array(
    z.object({
      goal: goalIdSchema,
      name: z.string(),
      margin: z.number(),
      variants: z.array(
        z.object({
          version: versionIdSchema,
          reading: z.enum(['broken', 'holds', 'open']),
          lift: z.number().nullable(),
          liftInterval: interval,
        }),
      ),
    }),
  ),
  worth: z.object({
    in: z.enum(['points', 'money']),
    currency: z.string(),
    arms: z.array(
      z.object({
        version: versionIdSchema,
        perVisitor: z.number().nullable(),
        perVisit: z.number().nullable(),
        /** From the original: of worth per visitor, and of worth per visit. */
        difference: interval,
        visitDifference: interval,
      }),
    ),
  }),
  funnel: z
    .object({ steps: z.array(z.string()), passed: z.array(z.object({ version: versionIdSchema, counts: z.array(z.number()) })) })
    .nullable(),
  smallestEffect: z.number(),
  days: z.number(),
  /** Stretches of constant weights, oldest first; more than one where the split was changed. */
  epochs: z.array(
    z.object({
      since: when,
      because: z.string(),
      arms: z.array(z.object({ version: versionIdSchema, name: z.string(), weight: z.number() })),
    }),
  ),
  overTime: z.array(
    z.object({
      version: versionIdSchema,
      points: z.array(
        z.object({ day: z.string(), lift: z.number(), lower: z.number(), upper: z.number(), cleared: z.boolean() }),
      ),
    }),
  ),
  arrivals: z.array(z.object({ day: z.string(), counts: z.array(z.object({ version: versionIdSchema, exposed: z.number() })) })),
})
export type ResultView = z.infer<typeof resultView>

export const notebookLine = z.object({
  test: testIdSchema,
  name: z.string(),
  page: z.string(),
  problem: z.string(),
  change: z.string(),
  expected: z.string(),
  decision: decisionView,
  hasPictures: z.boolean(),
  arms: z.array(armView.extend({ name: z.string() })),
  goal: z.string(),
  startedAt: when,
})
export type NotebookLine = z.infer<typeof notebookLine>

export const resultActions = {
  'result.read': asks(
    z.object({
      test: testIdSchema,
      round: roundIdSchema.nullable().default(null),
      source: z.number().int().min(0),
      goal: goalIdSchema.nullable().default(null),
    }),
    resultView.nullable(),
  ),
  'result.segments': asks(
    z.object({ round: roundIdSchema, source: z.number().int().min(0), goal: goalIdSchema }),
    z.object({
      traits: z.array(traitView),
      named: z.array(namedView),
      /** Names of segments by which nothing is known of these visitors. */
      unread: z.array(z.string()),
    }),
  ),
  'notebook.list': asks(z.object(paging), listOf(notebookLine)),
  'notebook.picture': asks(
    z.object({ test: testIdSchema, which: z.enum(['original', 'chosen']) }),
    z.object({ html: z.string().nullable() }),
  ),
  'notebook.write': edits(z.object({ test: testIdSchema, lesson: z.string().max(4000) }), nothing),
}
