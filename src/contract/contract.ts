import * as z from 'zod'
import { conditionSchema } from '@/core/decide'
import { documentKinds, documentSchema, editsSchema } from '@/core/document'
import { armSchema, designSchema, partSchema, readings, statuses, versionSchema } from '@/core/experiment'
import { goalSchema, wiringSchema } from '@/core/goals'
import { documentIdSchema, goalIdSchema, nodeIdSchema, roundIdSchema, testIdSchema, versionIdSchema } from '@/core/ids'

/** Editors make and prepare; publishers also put live: publish, start, stop, decide; administrators say what may run. */
export const roles = ['editor', 'publisher', 'administrator'] as const
export type Role = (typeof roles)[number]

/** Each role may do what those before it may. */
export function mayAs(role: Role, needed: Role): boolean {
  return roles.indexOf(role) >= roles.indexOf(needed)
}

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

const share = z.object({ name: z.string(), visits: z.number() })
const siteFigures = z.object({
  /** Oldest first. Of a page, `visitors` are those who had not seen it before, and `visits` those that began on it. */
  days: z.array(z.object({ day: z.string(), visitors: z.number(), views: z.number(), visits: z.number(), bounced: z.number() })),
  sources: z.array(share),
  devices: z.array(share),
  pages: z.array(
    z.object({ id: documentIdSchema, title: z.string(), views: z.number(), visits: z.number(), bounced: z.number() }),
  ),
})
export type SiteFigures = z.infer<typeof siteFigures>

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
  /** The part in the document that was opened. */
  node: nodeIdSchema,
  parts: z.array(partSchema),
  arms: designSchema.shape.arms,
})

/** A document as a place where another one is used. */
const placeLine = z.object({ id: documentIdSchema, kind: z.enum(documentKinds), title: z.string(), path: z.string() })
export type PlaceLine = z.infer<typeof placeLine>

const mediaLine = z.object({
  name: z.string(),
  title: z.string(),
  alt: z.string(),
  type: z.string(),
  width: z.number(),
  height: z.number(),
  size: z.number(),
  at: when,
  by: z.string(),
  places: z.array(placeLine),
})
export type MediaLine = z.infer<typeof mediaLine>

const callLine = z.object({
  id: documentIdSchema,
  title: z.string(),
  look: z.string(),
  campaign: z.string(),
  state: z.enum(pageStates),
  places: z.array(placeLine),
  tests: z.array(z.object({ id: testIdSchema, name: z.string(), status: z.enum(statuses) })),
  views: z.number(),
  clicks: z.number(),
  submissions: z.number(),
  worth: z.number(),
  /** Orders whose visitor pressed it last, in the fourteen days before; in the currency of the site. */
  revenue: z.number(),
  ordersOpen: z.number(),
  ordersClosed: z.number(),
  updatedAt: when,
  updatedBy: z.string(),
})
export type CallLine = z.infer<typeof callLine>

/** What was read from a file that came in, and what in it could not be: each with its place. */
const importReport = z.object({ made: z.array(placeLine), notes: z.array(z.string()) })
export type ImportReport = z.infer<typeof importReport>

const day = z.iso.date()
const callFilter = z.object({
  campaign: z.string().max(120).default(''),
  from: day.nullable().default(null),
  to: day.nullable().default(null),
  channel: z.enum(['page', 'newsletter', 'all']).default('all'),
})

const revisionLine = z.object({ number: z.number(), note: z.string(), author: z.string(), at: when })

const documentView = z.object({
  document: documentSchema,
  lock,
  state: z.enum(pageStates),
  published: documentSchema.nullable(),
  publishedRevision: z.number().nullable(),
  /** Menus, calls to action and the roots of other pages: what the looks and the link fields need. */
  surroundings: z.array(documentSchema),
  pictures: z.array(z.string()),
  /** Where the document is shown, and from where it is linked to. */
  places: z.array(placeLine),
  linkedFrom: z.array(placeLine),
  /** Whether scripts that versions bring may run on the site. */
  scripts: z.boolean(),
  versions: z.array(versionView),
  tests: z.array(testBrief),
  /** Parts whose rules are live, with the versions as they are live. */
  live: z.array(z.object({ node: nodeIdSchema, versions: z.array(versionIdSchema), current: z.boolean() })),
  revisions: z.array(revisionLine),
  editedBy: z.string(),
  editedAt: when,
})
export type DocumentView = z.infer<typeof documentView>

const armView = z.object({ version: versionIdSchema, exposed: z.number(), converters: z.number(), rate: z.number().nullable() })

const testLine = z.object({
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

/** What a goal is, but for its id and name. */
const goalBody = goalSchema.omit({ id: true, name: true })

export const goalStates = ['draft', 'published', 'changed', 'archived'] as const

/** A component, or a whole document, that a goal is wired to. */
const goalPlace = z.object({ document: documentIdSchema, title: z.string(), path: z.string(), node: nodeIdSchema.nullable() })

const goalLine = z.object({
  goal: goalSchema,
  state: z.enum(goalStates),
  lock,
  /** In the last 28 days: how often it was reached, by how many for the first time, their share of all new visitors, what it brought. */
  times: z.number(),
  visitors: z.number(),
  rate: z.number().nullable(),
  worth: z.number(),
  /** How often, day by day, the oldest first. */
  days: z.array(z.number()),
  /** A few of the places, and how many there are. */
  places: z.array(goalPlace),
  placesInAll: z.number(),
  tests: z.array(
    z.object({ id: testIdSchema, name: z.string(), status: z.enum(statuses), as: z.enum(['decides', 'watched', 'guard']) }),
  ),
  /** What is missing before it can count, in words; empty where nothing is. */
  lacks: z.string(),
  updatedBy: z.string(),
  updatedAt: when,
})
export type GoalLine = z.infer<typeof goalLine>

const goalView = goalLine.extend({
  /** Who passed each step in the last 28 days, for a funnel. */
  funnel: z.array(z.object({ goal: goalIdSchema, name: z.string(), passed: z.number() })),
  library: z.array(goalSchema),
  currency: z.string(),
  /** When something was first reported under its name, for an event or order; `null` before. */
  seenAt: z.string().nullable(),
  pages: z.array(z.object({ id: documentIdSchema, title: z.string(), path: z.string(), pageType: z.string() })),
})
export type GoalView = z.infer<typeof goalView>

/** An origin as browsers send it: scheme, host and port, nothing after it. */
const originSchema = z
  .string()
  .trim()
  .max(200)
  .refine((text) => URL.canParse(text) && /^https?:/.test(text) && new URL(text).origin === text, {
    error: 'an origin looks like https://shop.example, without a path',
  })

const keyLine = z.object({
  id: z.string(),
  name: z.string(),
  origin: z.string(),
  createdAt: when,
  createdBy: z.string(),
  revokedAt: when.nullable(),
})

/** What a column of a table of orders and conversions can be. */
export const csvFields = ['number', 'at', 'value', 'visitor', 'event', 'kind', 'currency'] as const
export type CsvField = (typeof csvFields)[number]
const csvText = z.string().min(1, 'the file is empty').max(1_500_000, 'the file has more than 1.5 MB; divide it')
/** The column of each field, counted from 0; `null` where the table has none. */
const csvMapping = z.object({
  number: z.number().int().min(0).nullable(),
  at: z.number().int().min(0).nullable(),
  value: z.number().int().min(0).nullable(),
  visitor: z.number().int().min(0).nullable(),
  event: z.number().int().min(0).nullable(),
  kind: z.number().int().min(0).nullable(),
  currency: z.number().int().min(0).nullable(),
})
export type CsvMapping = z.infer<typeof csvMapping>
const csvRefusal = z.object({ line: z.number(), fault: z.string() })
const csvPreview = z.object({
  columns: z.array(z.string()),
  rows: z.array(z.array(z.string())),
  lines: z.number(),
  mapping: csvMapping,
})
const csvReport = z.object({ taken: z.number(), known: z.number(), refused: z.array(csvRefusal), refusedInAll: z.number() })

/** How the stand-in for the service behind forms behaves. */
export const moods = ['accepts', 'refuses', 'slow', 'down'] as const

const standInView = z.object({
  mood: z.enum(moods),
  currency: z.string(),
  entries: z.array(
    z.object({
      id: z.number(),
      page: z.string(),
      values: z.record(z.string(), z.string()),
      at: when,
      status: z.enum(['waiting', 'accepted', 'refused']),
      tries: z.number(),
      message: z.string(),
    }),
  ),
  entriesInAll: z.number(),
  waiting: z.number(),
  orders: z.array(z.object({ number: z.string(), at: when, value: z.number(), refunded: z.number(), closed: z.boolean() })),
  ordersInAll: z.number(),
})

const suggestion = z.object({ name: z.string(), why: z.string(), wiring: wiringSchema })
export type GoalSuggestion = z.infer<typeof suggestion>

/** What an administrator decides for the whole site. */
export const siteSettings = z.object({
  scripts: z.boolean(),
  currency: z.string().regex(/^[A-Z]{3}$/, 'a currency has three capital letters, such as EUR (ISO 4217)'),
  bounceSeconds: z.number().int().min(1).max(600),
})

const testView = z.object({
  id: testIdSchema,
  status: z.enum(statuses),
  lock,
  design: designSchema,
  versions: z.array(versionSchema),
  page: z.object({ title: z.string(), path: z.string() }),
  /** The documents of the tested parts, in their order, and on how many published pages each is shown. */
  documents: z.array(documentSchema),
  places: z.array(z.number()),
  /** Versions of the parts that are not in the test yet. */
  free: z.array(versionSchema.extend({ part: z.number() })),
  surroundings: z.array(documentSchema),
  goals: z.array(goalSchema),
  currency: z.string(),
  pages: z.array(z.object({ id: documentIdSchema, title: z.string(), path: z.string(), published: z.boolean() })),
  traffic: z.object({ visitorsPerDay: z.number(), baseRate: z.number().nullable() }),
  blocks: z.array(findingView),
  advises: z.array(findingView),
  passed: z.array(z.string()),
  rounds: z.array(
    z.object({ id: roundIdSchema, number: z.number(), startedAt: when, endedAt: when.nullable(), because: z.string() }),
  ),
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
        difference: interval,
      }),
    ),
  }),
  funnel: z
    .object({ steps: z.array(z.string()), passed: z.array(z.object({ version: versionIdSchema, counts: z.array(z.number()) })) })
    .nullable(),
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

const rulesSite = <In extends z.ZodType, Out extends z.ZodType>(input: In, output: Out): Action<In, Out> => ({
  input,
  output,
  role: 'administrator',
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
  /** Who came in the last 28 days, whatever is tested: to the whole site, or to one page. */
  'site.figures': asks(z.object({ document: documentIdSchema.nullable().default(null) }), siteFigures),
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
  'document.open': asks(z.object({ document: documentIdSchema }), documentView),
  'document.edit': edits(
    z.object({ document: documentIdSchema, base: lock, edits: editsSchema.min(1) }),
    z.object({ lock, document: documentSchema, merged: z.boolean() }),
  ),
  'document.publish': goesLive(
    z.object({ document: documentIdSchema, lock, note: z.string().max(300).default('') }),
    z.object({ revision: z.number(), release: z.number() }),
  ),
  'document.restore': edits(
    z.object({ document: documentIdSchema, revision: z.number().int().min(1), lock }),
    z.object({ lock }),
  ),
  /** A new page: a copy of one, from a template, or empty; or an empty document of another kind. */
  'document.create': edits(
    z.object({
      kind: z.enum(documentKinds),
      title: z.string().trim().min(1, 'give it a title').max(200),
      path: z
        .string()
        .regex(/^\/[a-z0-9/_-]{0,200}$/, 'an address begins with “/” and has small letters, digits, “-”, “_” and “/”')
        .nullable()
        .default(null),
      from: documentIdSchema.nullable().default(null),
    }),
    z.object({ id: documentIdSchema }),
  ),
  'document.saveAs': edits(
    z.object({
      document: documentIdSchema,
      kind: z.enum(['template', 'shared']),
      node: nodeIdSchema.nullable(),
      title: z.string().trim().min(1).max(200),
    }),
    z.object({ id: documentIdSchema }),
  ),
  /** What was changed from one revision to another, in words; `null` is the draft. */
  'document.compare': asks(
    z.object({ document: documentIdSchema, from: z.number().int().min(1), to: z.number().int().min(1).nullable() }),
    z.object({ words: z.array(z.string()), before: documentSchema, after: documentSchema }),
  ),
  'template.list': asks(nothing, z.object({ templates: z.array(documentSchema) })),
  /** Makes a version a copy of another page, or empty. */
  'version.fill': edits(z.object({ id: versionIdSchema, lock, from: documentIdSchema.nullable() }), versionView),
  'media.list': asks(z.object({ ...paging, kind: z.enum(['image', 'video', 'all']).default('all') }), listOf(mediaLine)),
  'media.save': edits(z.object({ name: z.string(), title: z.string().max(200), alt: z.string().max(500) }), nothing),
  'campaign.list': asks(
    nothing,
    z.object({ campaigns: z.array(z.object({ name: z.string(), tests: z.number(), documents: z.number() })) }),
  ),
  'campaign.create': edits(z.object({ name: z.string().trim().min(1, 'give the campaign a name').max(120) }), nothing),
  'call.list': asks(
    callFilter.extend({ ...paging, only: documentIdSchema.optional() }),
    listOf(callLine).extend({ currency: z.string() }),
  ),
  'call.table': asks(callFilter, z.object({ csv: z.string() })),
  'setting.read': asks(nothing, siteSettings),
  'setting.save': rulesSite(siteSettings.partial(), z.object({ release: z.number() })),
  'format.document': asks(
    z.object({ document: documentIdSchema, as: z.enum(['json', 'html', 'opml']) }),
    z.object({ name: z.string(), type: z.string(), text: z.string() }),
  ),
  'format.test': asks(z.object({ test: testIdSchema }), z.object({ name: z.string(), type: z.string(), text: z.string() })),
  'format.schema': asks(nothing, z.object({ text: z.string() })),
  'format.take': edits(
    z.object({ as: z.enum(['json', 'html', 'opml']), text: z.string().max(1_500_000), title: z.string().max(200).default('') }),
    importReport,
  ),
  'version.create': edits(
    z.object({
      /** Chosen by whoever asks, so that asking twice makes one, and writing can begin before the answer. */
      id: versionIdSchema.optional(),
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
  'test.list': asks(
    z.object({ ...paging, status: z.enum(statuses).nullable().default(null), campaign: z.string().max(120).default('') }),
    listOf(testLine),
  ),
  'test.open': asks(z.object({ test: testIdSchema }), testView),
  'test.create': edits(z.object({ parts: z.array(partSchema).min(1).max(4) }), z.object({ test: testIdSchema })),
  /** Turns one variant off, or adds one, while the test runs: in one step, in a new round. */
  'test.change': goesLive(
    z.object({ test: testIdSchema, arms: z.array(armSchema).min(2) }),
    z.object({ release: z.number(), round: z.number() }),
  ),
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
  'goal.list': asks(z.object({ ...paging, archived: z.boolean().default(false) }), listOf(goalLine)),
  'goal.open': asks(z.object({ goal: goalIdSchema }), goalView),
  'goal.create': edits(goalBody.extend({ name: goalSchema.shape.name }), goalSchema),
  'goal.save': edits(goalSchema.extend({ lock }), z.object({ lock })),
  'goal.publish': goesLive(z.object({ goal: goalIdSchema, lock }), z.object({ release: z.number() })),
  'goal.archive': goesLive(z.object({ goal: goalIdSchema, archived: z.boolean() }), z.object({ release: z.number() })),
  'goal.remove': edits(z.object({ goal: goalIdSchema }), nothing),
  /** What could count on these pages: forms, calls to action, confirmation pages, links to elsewhere. */
  'goal.suggest': asks(
    z.object({ documents: z.array(documentIdSchema).min(1).max(60) }),
    z.object({ suggestions: z.array(suggestion) }),
  ),
  'key.list': asks(nothing, z.object({ keys: z.array(keyLine), address: z.string() })),
  'key.create': rulesSite(
    z.object({ name: z.string().trim().min(1, 'say what the key is for').max(120), origin: originSchema }),
    z.object({ id: z.string(), key: z.string() }),
  ),
  'key.revoke': rulesSite(z.object({ id: z.string().max(40) }), z.object({ release: z.number() })),
  'order.preview': asks(z.object({ text: csvText }), csvPreview),
  'order.take': goesLive(z.object({ text: csvText, mapping: csvMapping }), csvReport),
  'standIn.read': asks(z.object({ ...paging, orders: z.number().int().min(1).max(100_000).default(1) }), standInView),
  'standIn.setList': goesLive(z.object({ mood: z.enum(moods) }), nothing),
  'standIn.closeOrder': goesLive(z.object({ order: z.string().max(60) }), nothing),
  'standIn.refundOrder': goesLive(
    z.object({ order: z.string().max(60), amount: z.number().positive('pay back more than nothing').max(1_000_000) }),
    nothing,
  ),
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
