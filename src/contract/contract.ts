import * as z from 'zod'
import { conditionSchema } from '@/core/decide'
import { documentSchema, editsSchema } from '@/core/document'
import { designSchema, readings, statuses, versionSchema } from '@/core/experiment'
import { goalSchema, wiringSchema } from '@/core/goals'
import { documentIdSchema, goalIdSchema, nodeIdSchema, roundIdSchema, testIdSchema, versionIdSchema } from '@/core/ids'

/** Editors make and prepare; publishers also put live: publish, start, stop, decide. */
export const roles = ['editor', 'publisher'] as const
export type Role = (typeof roles)[number]

const when = z.iso.datetime()
const lock = z.number().int().min(0)

export const accountView = z.object({ id: z.string(), email: z.string(), name: z.string(), role: z.enum(roles) })
export type AccountView = z.infer<typeof accountView>

export const pageStates = ['draft', 'published', 'changed'] as const

const pageLine = z.object({
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

export const manners = ['chance', 'rule'] as const

const versionView = versionSchema.extend({
  node: nodeIdSchema,
  manner: z.enum(manners),
  condition: conditionSchema.nullable(),
  test: testIdSchema.nullable(),
  lock,
})
export type VersionView = z.infer<typeof versionView>

const testBrief = z.object({
  id: testIdSchema,
  name: z.string(),
  status: z.enum(statuses),
  node: nodeIdSchema,
  arms: designSchema.shape.arms,
})

const revisionLine = z.object({ number: z.number(), note: z.string(), author: z.string(), at: when })

const pageView = z.object({
  document: documentSchema,
  lock,
  state: z.enum(pageStates),
  published: documentSchema.nullable(),
  publishedRevision: z.number().nullable(),
  /** Menus, calls to action and the roots of other pages: what the looks and the link fields need. */
  surroundings: z.array(documentSchema),
  pictures: z.array(z.string()),
  versions: z.array(versionView),
  tests: z.array(testBrief),
  /** Parts whose rules are live, with the versions as they are live. */
  live: z.array(z.object({ node: nodeIdSchema, versions: z.array(versionIdSchema), current: z.boolean() })),
  revisions: z.array(revisionLine),
  editedBy: z.string(),
  editedAt: when,
})
export type PageView = z.infer<typeof pageView>

const armView = z.object({ version: versionIdSchema, exposed: z.number(), converters: z.number(), rate: z.number().nullable() })

const testLine = z.object({
  id: testIdSchema,
  name: z.string(),
  status: z.enum(statuses),
  page: z.string(),
  problem: z.string(),
  goal: z.string().nullable(),
  readiness: z.object({ blocks: z.number(), advises: z.number() }).nullable(),
  /** The reading in a sentence, live; `null` before the first round. */
  sentence: z.string().nullable(),
  reading: z.enum(readings).nullable(),
  evidence: z.array(z.object({ day: z.string(), lower: z.number(), upper: z.number() })),
  exposed: z.number(),
  daysMore: z.number().nullable(),
  startedAt: when.nullable(),
  settledAt: when.nullable(),
})
export type TestLine = z.infer<typeof testLine>

/** A finding of readiness with its words and, where one exists, the step that settles it. */
const findingView = z.object({
  code: z.string(),
  words: z.string(),
  settle: z.object({ label: z.string(), step: z.string(), subject: z.string().nullable() }).nullable(),
})
export type FindingView = z.infer<typeof findingView>

const rehearsalPlan = z.object({
  visitors: z.number().int().min(100, 'at least 100 visitors').max(200_000, 'at most 200,000 visitors'),
  days: z.number().int().min(1).max(90),
  seed: z.number().int().min(0).max(2_000_000_000),
  rates: z.array(z.object({ version: versionIdSchema, rate: z.number().min(0).max(1) })).min(2),
})
export type RehearsalPlan = z.infer<typeof rehearsalPlan>

const rehearsalView = z.object({
  id: z.number(),
  test: testIdSchema,
  testName: z.string(),
  plan: rehearsalPlan,
  status: z.enum(['waiting', 'running', 'done', 'cancelled', 'failed']),
  sent: z.number(),
  message: z.string(),
  by: z.string(),
  at: when,
  versions: z.array(z.object({ id: versionIdSchema, name: z.string() })),
})
export type RehearsalView = z.infer<typeof rehearsalView>

const decisionView = z.object({
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

const testView = z.object({
  id: testIdSchema,
  status: z.enum(statuses),
  lock,
  design: designSchema,
  versions: z.array(versionSchema),
  page: z.object({ title: z.string(), path: z.string() }),
  document: documentSchema,
  surroundings: z.array(documentSchema),
  goals: z.array(goalSchema),
  pages: z.array(z.object({ id: documentIdSchema, title: z.string(), path: z.string(), published: z.boolean() })),
  traffic: z.object({ visitorsPerDay: z.number(), baseRate: z.number().nullable() }),
  blocks: z.array(findingView),
  advises: z.array(findingView),
  passed: z.array(z.string()),
  rounds: z.array(z.object({ id: roundIdSchema, number: z.number(), startedAt: when, endedAt: when.nullable() })),
  rehearsals: z.array(rehearsalView),
  decision: decisionView.nullable(),
})
export type TestView = z.infer<typeof testView>

const interval = z.tuple([z.number(), z.number()]).nullable()

const resultView = z.object({
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
      daysMore: z.number().nullable(),
    }),
  ),
  split: z.object({ assigned: z.number(), exposed: z.number(), trusted: z.boolean() }),
  smallestEffect: z.number(),
  days: z.number(),
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

const notebookLine = z.object({
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

/** One action: what it takes, what it gives, who may. Commands change something; the rest only read. */
interface Action<In extends z.ZodType, Out extends z.ZodType> {
  readonly input: In
  readonly output: Out
  readonly role: Role
  readonly changes: boolean
}

const asks = <In extends z.ZodType, Out extends z.ZodType>(input: In, output: Out): Action<In, Out> => ({
  input,
  output,
  role: 'editor',
  changes: false,
})
const edits = <In extends z.ZodType, Out extends z.ZodType>(input: In, output: Out): Action<In, Out> => ({
  input,
  output,
  role: 'editor',
  changes: true,
})
const goesLive = <In extends z.ZodType, Out extends z.ZodType>(input: In, output: Out): Action<In, Out> => ({
  input,
  output,
  role: 'publisher',
  changes: true,
})

const nothing = z.object({})
const paging = { page: z.number().int().min(1).max(100_000).default(1), search: z.string().max(120).default('') }
export const PAGE_SIZE = 50
const listOf = <Line extends z.ZodType>(line: Line) => z.object({ lines: z.array(line), total: z.number() })

/** Everything the studio and the server say to each other. */
export const contract = {
  'session.read': asks(nothing, accountView),
  'today.read': asks(
    nothing,
    z.object({
      tests: z.array(testLine),
      changedPages: z.array(z.object({ id: documentIdSchema, title: z.string(), by: z.string(), at: when })),
      visitorsToday: z.number(),
      viewsToday: z.number(),
      visitorsNow: z.number(),
      counting: z.object({ waiting: z.number(), lastEventAt: when.nullable(), jobsWell: z.boolean() }),
      release: z.object({ number: z.number(), reason: z.string(), at: when, by: z.string() }).nullable(),
    }),
  ),
  'site.read': asks(
    z.object(paging),
    listOf(pageLine).extend({
      others: z.array(
        z.object({
          id: documentIdSchema,
          kind: z.enum(['menu', 'callToAction']),
          title: z.string(),
          usedOn: z.array(z.string()),
        }),
      ),
    }),
  ),
  'page.open': asks(z.object({ document: documentIdSchema }), pageView),
  'page.edit': edits(
    z.object({ document: documentIdSchema, base: lock, edits: editsSchema.min(1) }),
    z.object({ lock, document: documentSchema, merged: z.boolean() }),
  ),
  'page.publish': goesLive(
    z.object({ document: documentIdSchema, lock, note: z.string().max(300).default('') }),
    z.object({ revision: z.number(), release: z.number() }),
  ),
  'page.restore': edits(z.object({ document: documentIdSchema, revision: z.number().int().min(1), lock }), z.object({ lock })),
  'version.create': edits(
    z.object({
      document: documentIdSchema,
      node: nodeIdSchema,
      manner: z.enum(manners),
      name: z.string().trim().min(1).max(80).optional(),
      from: versionIdSchema.nullable(),
    }),
    versionView,
  ),
  'version.save': edits(
    z.object({
      id: versionIdSchema,
      lock,
      name: versionSchema.shape.name.optional(),
      edits: editsSchema.optional(),
      condition: conditionSchema.optional(),
    }),
    versionView,
  ),
  'version.remove': edits(z.object({ id: versionIdSchema }), nothing),
  'version.order': edits(
    z.object({ document: documentIdSchema, node: nodeIdSchema, versions: z.array(versionIdSchema).max(50) }),
    nothing,
  ),
  'personalization.publish': goesLive(
    z.object({ document: documentIdSchema, node: nodeIdSchema }),
    z.object({ release: z.number() }),
  ),
  'personalization.withdraw': goesLive(
    z.object({ document: documentIdSchema, node: nodeIdSchema }),
    z.object({ release: z.number() }),
  ),
  'test.list': asks(z.object({ ...paging, status: z.enum(statuses).nullable().default(null) }), listOf(testLine)),
  'test.open': asks(z.object({ test: testIdSchema }), testView),
  'test.create': edits(z.object({ document: documentIdSchema, node: nodeIdSchema }), z.object({ test: testIdSchema })),
  'test.save': edits(z.object({ test: testIdSchema, lock, design: designSchema }), z.object({ lock })),
  'test.remove': edits(z.object({ test: testIdSchema }), nothing),
  'test.start': goesLive(z.object({ test: testIdSchema, lock }), z.object({ release: z.number() })),
  'test.pause': goesLive(z.object({ test: testIdSchema }), z.object({ release: z.number() })),
  'test.goOn': goesLive(z.object({ test: testIdSchema, lock }), z.object({ release: z.number(), newRound: z.boolean() })),
  'test.end': goesLive(z.object({ test: testIdSchema }), z.object({ release: z.number() })),
  'test.preview': asks(
    z.object({ test: testIdSchema, version: versionIdSchema }),
    z.object({ words: z.array(z.string()), unfit: z.array(z.string()) }),
  ),
  'test.decide': goesLive(
    z.object({
      test: testIdSchema,
      version: versionIdSchema,
      reason: z.string().max(2000),
      lesson: z.string().max(4000).default(''),
    }),
    z.object({ release: z.number(), unfit: z.array(z.string()) }),
  ),
  'test.undo': goesLive(z.object({ test: testIdSchema }), z.object({ release: z.number(), unfit: z.array(z.string()) })),
  'result.read': asks(
    z.object({
      test: testIdSchema,
      round: roundIdSchema.nullable().default(null),
      source: z.number().int().min(0),
      goal: goalIdSchema.nullable().default(null),
    }),
    resultView.nullable(),
  ),
  'goal.list': asks(nothing, z.object({ goals: z.array(goalSchema) })),
  'goal.create': edits(z.object({ name: goalSchema.shape.name, wiring: wiringSchema }), goalSchema),
  'rehearsal.start': edits(z.object({ test: testIdSchema, plan: rehearsalPlan }), z.object({ id: z.number() })),
  'rehearsal.list': asks(z.object({ test: testIdSchema.nullable() }), z.object({ rehearsals: z.array(rehearsalView) })),
  'rehearsal.cancel': edits(z.object({ id: z.number().int() }), nothing),
  'notebook.list': asks(z.object(paging), listOf(notebookLine)),
  'notebook.picture': asks(
    z.object({ test: testIdSchema, which: z.enum(['original', 'chosen']) }),
    z.object({ html: z.string().nullable() }),
  ),
  'notebook.write': edits(z.object({ test: testIdSchema, lesson: z.string().max(4000) }), nothing),
} as const

export type Contract = typeof contract
export type ActionName = keyof Contract
export type Input<Name extends ActionName> = z.input<Contract[Name]['input']>
export type Parsed<Name extends ActionName> = z.output<Contract[Name]['input']>
export type Output<Name extends ActionName> = z.output<Contract[Name]['output']>

export const actionNames = Object.keys(contract) as ActionName[]

/** What an answer that is not the output looks like. */
export const faultSchema = z.object({
  fault: z.string(),
  code: z.enum(['input', 'signIn', 'role', 'missing', 'conflict', 'blocked', 'busy', 'broken']),
})
export type Fault = z.infer<typeof faultSchema>
