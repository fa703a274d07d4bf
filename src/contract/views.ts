import { traits } from '@/core/ledger'
import * as z from 'zod'
import { conditionSchema } from '@/core/decide'
import { documentKinds, documentSchema } from '@/core/document'
import { designSchema, outcomes, partSchema, readings, statuses, versionSchema } from '@/core/experiment'
import { isTimeZone } from '@/core/time/zone'
import { identitySchema } from '@/core/identity'
import { goalSchema, wiringSchema } from '@/core/goals'
import { readUrl } from '@/core/url'
import { documentIdSchema, goalIdSchema, nodeIdSchema, roundIdSchema, testIdSchema, versionIdSchema } from '@/core/ids'

/** Editors make and prepare; publishers also put live: publish, start, stop, decide; administrators say what may run. */
export const roles = ['editor', 'publisher', 'administrator'] as const
export type Role = (typeof roles)[number]

/** Each role may do what those before it may. */
export function mayAs(role: Role, needed: Role): boolean {
  return roles.indexOf(role) >= roles.indexOf(needed)
}

export const when = z.iso.datetime()
export const lock = z.number().int().min(0)

export const accountView = z.object({ id: z.string(), email: z.string(), name: z.string(), role: z.enum(roles) })
export type AccountView = z.infer<typeof accountView>

export const pageStates = ['draft', 'published', 'changed'] as const

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

export const share = z.object({ name: z.string(), visits: z.number() })
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

export const manners = ['chance', 'rule'] as const

export const versionView = versionSchema.extend({
  node: nodeIdSchema,
  manner: z.enum(manners),
  condition: conditionSchema.nullable(),
  test: testIdSchema.nullable(),
  lock,
})
export type VersionView = z.infer<typeof versionView>

export const testBrief = z.object({
  id: testIdSchema,
  name: z.string(),
  status: z.enum(statuses),
  /** The part in the document that was opened. */
  node: nodeIdSchema,
  parts: z.array(partSchema),
  arms: designSchema.shape.arms,
})

/** A document as a place where another one is used. */
export const placeLine = z.object({ id: documentIdSchema, kind: z.enum(documentKinds), title: z.string(), path: z.string() })
export type PlaceLine = z.infer<typeof placeLine>

export const mediaLine = z.object({
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

export const callLine = z.object({
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
export const importReport = z.object({ made: z.array(placeLine), notes: z.array(z.string()) })
export type ImportReport = z.infer<typeof importReport>

/** Something of the site that was looked for, and where it is opened. */
export const foundThing = z.object({
  kind: z.enum([...documentKinds, 'part', 'test', 'goal']),
  name: z.string(),
  /** Where it stands or how it is, in a few words. */
  about: z.string(),
  address: z.string(),
})
export type FoundThing = z.infer<typeof foundThing>

/** What becomes of a thing in an archive. */
export const archiveFates = ['new', 'replaced', 'same', 'skipped'] as const
export type ArchiveFate = (typeof archiveFates)[number]
export const archiveKinds = ['documents', 'tests', 'versions', 'goals', 'campaigns', 'media'] as const
const archiveKind = z.enum(archiveKinds)

/** What loading an archive would do, or has done. */
export const archiveReport = z.object({
  /** The release it made; `null` where nothing has been loaded. */
  release: z.number().nullable(),
  groups: z.array(z.object({ kind: archiveKind, new: z.number(), replaced: z.number(), same: z.number(), skipped: z.number() })),
  /** What is not simply new or the same. */
  named: z.array(z.object({ kind: archiveKind, name: z.string(), fate: z.enum(archiveFates), why: z.string() })),
})
export type ArchiveReport = z.infer<typeof archiveReport>

export const day = z.iso.date()
export const callFilter = z.object({
  campaign: z.string().max(120).default(''),
  from: day.nullable().default(null),
  to: day.nullable().default(null),
  channel: z.enum(['page', 'newsletter', 'all']).default('all'),
})

export const revisionLine = z.object({ number: z.number(), note: z.string(), author: z.string(), at: when })

/** A site process, by its own word. */
export const servedView = z.object({
  name: z.string(),
  release: z.number(),
  faults: z.array(z.object({ id: z.string(), title: z.string(), words: z.string() })),
})

export const documentView = z.object({
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

export const armView = z.object({
  version: versionIdSchema,
  exposed: z.number(),
  converters: z.number(),
  rate: z.number().nullable(),
})

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
  daysMore: z.number().nullable(),
  /** Why it can draw nobody any more, although it runs; `null` where it can. */
  drawsNobody: z.string().nullable(),
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
  rates: z.array(z.object({ version: versionIdSchema, rate: z.number().min(0).max(1) })).min(2),
})
export type RehearsalPlan = z.infer<typeof rehearsalPlan>

export const rehearsalView = z.object({
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

/** What a goal is, but for its id and name. */
export const goalBody = goalSchema.omit({ id: true, name: true })

export const goalStates = ['draft', 'published', 'changed', 'archived'] as const

/** A component, or a whole document, that a goal is wired to. */
/** Where a part is drawn alone, small, and on how wide a page. */
export const miniatureView = z.object({ address: z.string(), width: z.number() })
export type MiniatureView = z.infer<typeof miniatureView>

export const goalPlace = z.object({
  document: documentIdSchema,
  title: z.string(),
  path: z.string(),
  node: nodeIdSchema.nullable(),
  /** How it looks there; `null` where nothing of it is published any more. */
  miniature: miniatureView.nullable(),
})

export const goalLine = z.object({
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

/** Something that was thrown away. */
export const binLine = z.object({
  kind: z.enum([...documentKinds, 'picture', 'film', 'goal', 'campaign']),
  id: z.string(),
  title: z.string(),
  by: z.string(),
  at: when,
  /** When it goes for good; `null` where a result needs it, so that it stays. */
  until: when.nullable(),
})
export type BinLine = z.infer<typeof binLine>

/** A test that publishing something touches: what it does to it, and what can be chosen. */
export const touchedTest = z.object({
  test: testIdSchema,
  name: z.string(),
  words: z.array(z.string()),
  ways: z.array(z.enum(outcomes)),
})
export type TouchedTest = z.infer<typeof touchedTest>

export const goalView = goalLine.extend({
  /** Running tests that count it as it was when their round began, which is not how it is now. */
  asBefore: z.array(z.object({ test: testIdSchema, name: z.string() })),
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
export const originSchema = z
  .string()
  .trim()
  .max(200)
  .refine((text) => /^https?:/.test(text) && readUrl(text)?.origin === text, {
    error: 'an origin looks like https://shop.example, without a path',
  })

export const keyLine = z.object({
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
export const csvText = z.string().min(1, 'the file is empty').max(1_500_000, 'the file has more than 1.5 MB; divide it')
/** The column of each field, counted from 0; `null` where the table has none. */
export const csvMapping = z.object({
  number: z.number().int().min(0).nullable(),
  at: z.number().int().min(0).nullable(),
  value: z.number().int().min(0).nullable(),
  visitor: z.number().int().min(0).nullable(),
  event: z.number().int().min(0).nullable(),
  kind: z.number().int().min(0).nullable(),
  currency: z.number().int().min(0).nullable(),
  /** What stands before the cents; `null` where the column says it. */
  decimal: z.enum(['.', ',']).nullable().default(null),
})
export type CsvMapping = z.infer<typeof csvMapping>
export type CsvColumn = Exclude<keyof CsvMapping, 'decimal'>
export const csvRefusal = z.object({ line: z.number(), fault: z.string() })
export const csvPreview = z.object({
  columns: z.array(z.string()),
  rows: z.array(z.array(z.string())),
  lines: z.number(),
  mapping: csvMapping,
  /** What each column, read as amounts, says of its decimal sign. */
  decimals: z.array(z.enum(['.', ',', 'none', 'unclear', 'both'])),
  /** By whose clock times without a zone are read. */
  timeZone: z.string(),
})
export const csvReport = z.object({
  taken: z.number(),
  known: z.number(),
  /** Lines that say again what a line above them said. */
  repeated: z.array(csvRefusal),
  repeatedInAll: z.number(),
  refused: z.array(csvRefusal),
  refusedInAll: z.number(),
})

/** How the stand-in for the service behind forms behaves. */
export const moods = ['accepts', 'refuses', 'slow', 'down'] as const

export const standInView = z.object({
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
  /** What visitors wrote is for publishers and administrators; others see that it came. */
  entriesHidden: z.boolean(),
  waiting: z.number(),
  orders: z.array(z.object({ number: z.string(), at: when, value: z.number(), refunded: z.number(), closed: z.boolean() })),
  ordersInAll: z.number(),
})

export const suggestion = z.object({ name: z.string(), why: z.string(), wiring: wiringSchema })
export type GoalSuggestion = z.infer<typeof suggestion>

export const mailServices = ['none', 'standIn'] as const

/** The name of a file in the media library, made from what is in it. */
export const mediaName = z.string().regex(/^m-[0-9a-f]{32}$/, 'the name of a file in the library')

/** What an administrator decides for the whole site. */
export const siteSettings = z.object({
  identity: identitySchema,
  /** Whether scripts that variants bring may run for visitors. */
  scripts: z.boolean(),
  /** What worth in money is in. */
  currency: z.string().regex(/^[A-Z]{3}$/, 'a currency has three capital letters, such as EUR (ISO 4217)'),
  /** Whose days and clock everything is counted and shown by: a name of the IANA database. */
  timeZone: z.string().max(60).refine(isTimeZone, 'a time zone such as Europe/Berlin'),
  /** Whoever leaves the first page of a visit within these seconds, having done nothing, has bounced. */
  bounceSeconds: z.number().int().min(1).max(600),
  /** Whether this site is there to be shown: what made-up readers of its newsletters do then counts, and says so. */
  demonstration: z.boolean(),
  /** For how many days the audit trail is kept. */
  auditDays: z.number().int().min(30, 'keep at least 30 days').max(3650, 'keep at most 10 years'),
  /** For how many days what visitors do is kept one by one, and what is remembered of each of them. Numbers stay. */
  eventDays: z.number().int().min(120, 'keep at least 120 days').max(3650, 'keep at most 10 years'),
  visitorDays: z.number().int().min(120, 'keep at least 120 days').max(3650, 'keep at most 10 years'),
  /** How links to passwords are sent: by hand, or by the stand-in for a mail service. */
  mail: z.enum(mailServices),
})

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
  /** Versions of the parts that are not in the test yet. */
  free: z.array(drawnVersion.extend({ part: z.number() })),
  goals: z.array(goalSchema),
  currency: z.string(),
  pages: z.array(z.object({ id: documentIdSchema, title: z.string(), path: z.string(), published: z.boolean() })),
  traffic: z.object({ visitorsPerDay: z.number(), baseRate: z.number().nullable() }),
  blocks: z.array(findingView),
  advises: z.array(findingView),
  passed: z.array(z.string()),
  /** Goals that it counts as they were when its round began, and that have been changed since. */
  asBefore: z.array(z.string()),
  /** Why it can draw nobody any more, although it runs; `null` where it can. */
  drawsNobody: z.string().nullable(),
  rounds: z.array(
    z.object({ id: roundIdSchema, number: z.number(), startedAt: when, endedAt: when.nullable(), because: z.string() }),
  ),
  rehearsals: z.array(rehearsalView),
  decision: decisionView.nullable(),
})
export type TestView = z.infer<typeof testView>

export const interval = z.tuple([z.number(), z.number()]).nullable()

/** A result by one thing that is known of visitors. */
export const traitView = z.object({
  trait: z.enum(traits),
  values: z
    .array(
      z.object({
        value: z.string(),
        arms: z
          .array(
            z.object({
              version: versionIdSchema,
              exposed: z.number(),
              converters: z.number(),
              rate: z.number().nullable(),
              interval: z.tuple([z.number(), z.number()]).readonly().nullable(),
            }),
          )
          .readonly(),
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
