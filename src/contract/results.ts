import * as z from 'zod'
import { devices } from '@/core/decide'
import { divisions, readings } from '@/core/experiment'
import { documentIdSchema, goalIdSchema, nodeIdSchema, roundIdSchema, testIdSchema, versionIdSchema } from '@/core/ids'
import { SEGMENT, traits } from '@/core/ledger'
import { asks, edits, interval, listOf, nothing, paging, when } from './action'
import { armView, decisionView, noteView, waitingView } from './tests'

const segmentArm = z.object({
  version: versionIdSchema,
  exposed: z.number(),
  converters: z.number(),
  rate: z.number().nullable(),
  interval: z.tuple([z.number(), z.number()]).readonly().nullable(),
})

/** A result divided by one thing. */
const byView = z.object({
  versions: z.array(z.object({ version: versionIdSchema, name: z.string() })),
  rows: z.array(z.object({ value: z.string(), words: z.string(), arms: z.array(segmentArm).readonly() })),
  /** What is to be known before the numbers are looked at. */
  words: z.string(),
  /** To whom it can be narrowed, as `only` asks for it. */
  only: z.array(z.object({ only: z.string(), by: z.enum([...traits, SEGMENT]), words: z.string() })),
})
export type ByView = z.infer<typeof byView>

/** How the interval of a variant narrowed day by day. */
const overTime = z.object({
  version: versionIdSchema,
  points: z.array(z.object({ day: z.string(), lift: z.number(), lower: z.number(), upper: z.number(), cleared: z.boolean() })),
})

export const resultView = z.object({
  round: roundIdSchema,
  roundNumber: z.number(),
  crowd: z.number(),
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
      /** A goal’s id, or “speed”. */
      of: z.string(),
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
    /** Whoever brought more counts as if they had brought so much; `null` where nobody stands out. */
    cap: z.object({ upTo: z.number(), visitors: z.number() }).nullable(),
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
  /** What is wrong with the counting itself, with where to look, likeliest first. */
  alarms: z.array(z.object({ kind: z.string(), words: z.string(), look: z.array(z.string()).readonly() })),
  /** Variants that are slower for their visitors than the original, in words. */
  slower: z.array(z.object({ versions: z.array(versionIdSchema), words: z.string() })),
  /** The lifts with what visitors had done before taken out of them; `null` where nothing is known of it. */
  steadied: z
    .object({
      words: z.string(),
      variants: z.array(z.object({ version: versionIdSchema, lift: z.number().nullable(), liftInterval: interval })),
    })
    .nullable(),
  /** Of a test of combinations, what each version of each part does, and which do more or less together. */
  parts: z
    .object({
      levels: z.array(
        z.object({
          part: z.number(),
          version: versionIdSchema,
          name: z.string(),
          exposed: z.number(),
          converters: z.number(),
          difference: z.number().nullable(),
          interval,
        }),
      ),
      pairs: z.array(
        z.object({
          parts: z.tuple([z.number(), z.number()]).readonly(),
          names: z.tuple([z.string(), z.string()]),
          difference: z.number(),
          interval: z.tuple([z.number(), z.number()]).readonly(),
          beyondChance: z.boolean(),
        }),
      ),
    })
    .nullable(),
  /** Other tests that its visitors were in, and what they change in this one. */
  beside: z.array(
    z.object({ round: roundIdSchema, name: z.string(), visitors: z.number(), words: z.string(), differs: z.boolean() }),
  ),
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
  overTime: z.array(overTime),
  arrivals: z.array(
    z.object({
      day: z.string(),
      counts: z.array(z.object({ version: versionIdSchema, exposed: z.number(), converters: z.number() })),
    }),
  ),
  /** What each variant adds, by the days since its visitors first saw it. */
  ages: z.array(
    z.object({
      from: z.number(),
      to: z.number(),
      lifts: z.array(z.object({ version: versionIdSchema, lift: z.number().nullable(), interval })),
    }),
  ),
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
  campaign: z.string(),
  tags: z.array(z.string()),
  notes: z.array(noteView),
  /** What each variant changed, in words. */
  changed: z.array(z.object({ name: z.string(), words: z.array(z.string()) })),
  /** What was tested: “heading”, “menu”. */
  tested: z.string(),
})
export type NotebookLine = z.infer<typeof notebookLine>

const gain = z.object({ lift: z.number(), interval: z.tuple([z.number(), z.number()]).readonly() })

/** Settled tests of one kind beside each other. */
export const kindView = z.object({
  kind: z.string(),
  tests: z.number(),
  paid: z.number(),
  average: gain.nullable(),
  /** What a variant of this kind gains, nine times of ten. */
  likely: z.tuple([z.number(), z.number()]).readonly().nullable(),
  each: z.array(gain.extend({ test: testIdSchema, name: z.string(), shrunk: z.number() })),
})
export type KindView = z.infer<typeof kindView>

const quantile = z.object({ value: z.number(), interval: z.tuple([z.number(), z.number()]).readonly() }).nullable()
const speedOf = z.object({ measured: z.number(), median: quantile, slowest: quantile })

/** What those did who took part, by version, whether a goal asks for it or not. */
const behaviourView = z.object({
  versions: z.array(
    z.object({
      version: versionIdSchema,
      name: z.string(),
      visits: z.number(),
      bounced: z.object({ share: z.number(), interval: z.tuple([z.number(), z.number()]).readonly() }).nullable(),
      read: z.number(),
      speed: z.object({ paint: speedOf, response: speedOf, shift: speedOf }),
    }),
  ),
  /** Pages that they went to, and components that they pressed; of each version so many visitors, in the order of versions. */
  next: z.array(z.object({ page: documentIdSchema, title: z.string(), visitors: z.array(z.number()) })),
  pressed: z.array(
    z.object({
      document: documentIdSchema,
      node: nodeIdSchema,
      words: z.string(),
      visitors: z.array(z.number()),
      times: z.array(z.number()),
    }),
  ),
  /** Pages on which something was pressed. */
  pages: z.array(z.object({ id: documentIdSchema, title: z.string() })),
})
export type BehaviourView = z.infer<typeof behaviourView>

const ofRound = { round: roundIdSchema, crowd: z.number().int().min(0) }

export const resultActions = {
  'result.behaviour': asks(z.object(ofRound), behaviourView.nullable()),
  /** A page as a version shows it, with where it was pressed. */
  'result.presses': asks(
    z.object({ ...ofRound, version: versionIdSchema, page: documentIdSchema }),
    z.object({
      /** `null` where the page is not published any more. */
      html: z.string().nullable(),
      spots: z.array(z.object({ node: nodeIdSchema, x: z.number(), y: z.number(), device: z.enum(devices), times: z.number() })),
    }),
  ),
  'result.read': asks(
    z.object({
      test: testIdSchema,
      round: roundIdSchema.nullable().default(null),
      crowd: z.number().int().min(0),
      goal: goalIdSchema.nullable().default(null),
    }),
    resultView.nullable(),
  ),
  /** How evidence grew in the last rounds before one, oldest first; nothing of one whose counts are not to be trusted. */
  'result.before': asks(
    z.object({ round: roundIdSchema, goal: goalIdSchema }),
    z.object({ rounds: z.array(z.object({ number: z.number(), series: z.array(overTime) })) }),
  ),
  'result.by': asks(
    z.object({ ...ofRound, goal: goalIdSchema, by: z.enum(divisions), only: z.string().max(160).default('') }),
    byView,
  ),
  'notebook.list': asks(z.object({ ...paging, tag: z.string().max(30).default('') }), listOf(notebookLine)),
  'tag.list': asks(z.object({}), z.object({ tags: z.array(z.string()) })),
  'notebook.kinds': asks(z.object({}), z.object({ kinds: z.array(kindView) })),
  'notebook.picture': asks(
    z.object({ test: testIdSchema, which: z.enum(['original', 'chosen']) }),
    z.object({ html: z.string().nullable() }),
  ),
  'notebook.write': edits(z.object({ test: testIdSchema, lesson: z.string().max(4000) }), nothing),
}
