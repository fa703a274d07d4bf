import * as z from 'zod'
import { conditionSchema } from '@/core/decide'
import { documentKinds, documentSchema, editsSchema } from '@/core/document'
import { armSchema, designSchema, outcomes, partSchema, statuses, versionSchema } from '@/core/experiment'
import { goalSchema, orderNumberSchema } from '@/core/goals'
import { documentIdSchema, goalIdSchema, idText, nodeIdSchema, roundIdSchema, testIdSchema, versionIdSchema } from '@/core/ids'
import { letterLine, letterView, sendingPlan } from './letter-views'
import {
  emailSchema,
  invitation,
  keptMail,
  madeLink,
  personLine,
  personNameSchema,
  personRef,
  trailFilter,
  trailLine,
} from './people'
import { visitorQuestion, visitorRef, visitorView } from './visitors'
import {
  type Role,
  accountView,
  binLine,
  callFilter,
  callLine,
  csvMapping,
  csvPreview,
  csvReport,
  csvText,
  documentView,
  goalBody,
  goalLine,
  goalView,
  foundThing,
  importReport,
  keyLine,
  lock,
  manners,
  mediaLine,
  mediaName,
  moods,
  nextPlace,
  notebookLine,
  originSchema,
  pageLine,
  pageStates,
  rehearsalPlan,
  rehearsalView,
  resultView,
  traitView,
  roles,
  servedView,
  siteFigures,
  siteSettings,
  standInView,
  suggestion,
  testLine,
  testView,
  touchedTest,
  versionView,
  when,
} from './views'

export * from './letter-views'
export * from './people'
export * from './visitors'
export * from './views'

/** One action: what it takes, what it gives, who may. Commands change something; the rest only read. */
interface Action<In extends z.ZodType, Out extends z.ZodType, Changes extends boolean> {
  readonly input: In
  readonly output: Out
  readonly role: Role
  readonly changes: Changes
}

const action =
  <Changes extends boolean>(role: Role, changes: Changes) =>
  <In extends z.ZodType, Out extends z.ZodType>(input: In, output: Out): Action<In, Out, Changes> => ({
    input,
    output,
    role,
    changes,
  })

const asks = action('editor', false)
const edits = action('editor', true)
const goesLive = action('publisher', true)
const rulesSite = action('administrator', true)
const seesAll = action('administrator', false)

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
  'document.open': asks(z.object({ document: documentIdSchema }), documentView),
  'document.edit': edits(
    // The same save sent twice, by its name, is one.
    z.object({ document: documentIdSchema, base: lock, edits: editsSchema.min(1), save: idText.optional() }),
    z.object({ lock, document: documentSchema, merged: z.boolean() }),
  ),
  /** What publishing the draft as it is would do to tests that are running or paused. */
  'document.effects': asks(z.object({ document: documentIdSchema }), z.object({ tests: z.array(touchedTest) })),
  'document.publish': goesLive(
    z.object({
      document: documentIdSchema,
      lock,
      note: z.string().max(300).default(''),
      /** What becomes of each running test that it touches. */
      tests: z
        .array(z.object({ test: testIdSchema, outcome: z.enum(outcomes) }))
        .max(50)
        .default([]),
    }),
    z.object({ revision: z.number(), release: z.number() }),
  ),
  /** Off the site; its address leads on to another page where one is named. */
  'bin.takeOff': goesLive(
    z.object({ document: documentIdSchema, to: documentIdSchema.nullable() }),
    z.object({ release: z.number() }),
  ),
  'bin.list': asks(nothing, z.object({ lines: z.array(binLine) })),
  /** Off the site, and into the bin. */
  'bin.put': edits(z.object({ document: documentIdSchema, to: documentIdSchema.nullable() }), nothing),
  'bin.take': edits(z.object({ document: documentIdSchema }), z.object({ sameAddress: z.boolean() })),
  'bin.putMedia': edits(z.object({ name: mediaName }), nothing),
  'bin.takeGoal': edits(z.object({ goal: goalIdSchema }), nothing),
  'bin.takeCampaign': edits(z.object({ name: z.string().max(120) }), nothing),
  'bin.takeMedia': edits(z.object({ name: mediaName }), nothing),
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
  'media.save': edits(z.object({ name: mediaName, title: z.string().max(200), alt: z.string().max(500) }), nothing),
  'campaign.list': asks(
    nothing,
    z.object({ campaigns: z.array(z.object({ name: z.string(), tests: z.number(), documents: z.number() })) }),
  ),
  'campaign.create': edits(z.object({ name: z.string().trim().min(1, 'give the campaign a name').max(120) }), nothing),
  'campaign.remove': edits(z.object({ name: z.string().max(120) }), nothing),
  'call.list': asks(
    callFilter.extend({ ...paging, only: documentIdSchema.optional() }),
    listOf(callLine).extend({ currency: z.string() }),
  ),
  'call.table': asks(callFilter, z.object({ csv: z.string() })),
  'letter.list': asks(
    z.object({ ...paging, campaign: z.string().max(120).default('') }),
    listOf(letterLine).extend({ currency: z.string() }),
  ),
  'letter.open': asks(z.object({ document: documentIdSchema }), letterView),
  /** Begins to send the draft as it is now, by the stand-in for a mailing service. */
  'letter.send': goesLive(z.object({ document: documentIdSchema, lock, plan: sendingPlan }), z.object({ number: z.number() })),
  'letter.stop': goesLive(z.object({ number: z.number().int() }), nothing),
  /** A letter as one of its readers got it. */
  'letter.look': asks(
    z.object({ number: z.number().int(), look: z.number().int() }),
    z.object({ html: z.string(), words: z.string() }),
  ),
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
    // How many draw visitors, whatever the list is narrowed to.
    listOf(testLine).extend({ running: z.number() }),
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
  /** Closes the round that runs and opens the next, which counts by the goals as they are now. */
  'test.nextRound': goesLive(z.object({ test: testIdSchema }), z.object({ release: z.number() })),
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
  'result.segments': asks(
    z.object({ round: roundIdSchema, source: z.number().int().min(0), goal: goalIdSchema }),
    z.object({ traits: z.array(traitView) }),
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
  'key.revoke': rulesSite(z.object({ id: idText }), z.object({ release: z.number() })),
  'order.preview': asks(z.object({ text: csvText }), csvPreview),
  'order.take': goesLive(z.object({ text: csvText, mapping: csvMapping }), csvReport),
  'standIn.read': asks(z.object({ ...paging, orders: z.number().int().min(1).max(100_000).default(1) }), standInView),
  'standIn.setList': goesLive(z.object({ mood: z.enum(moods) }), nothing),
  'standIn.closeOrder': goesLive(z.object({ order: orderNumberSchema }), nothing),
  'standIn.refundOrder': goesLive(
    z.object({ order: orderNumberSchema, amount: z.number().positive('pay back more than nothing').max(1_000_000) }),
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
  'person.list': seesAll(nothing, z.object({ people: z.array(personLine) })),
  'person.invite': rulesSite(invitation, madeLink),
  'person.setRole': rulesSite(personRef.extend({ role: z.enum(roles) }), nothing),
  'person.disable': rulesSite(personRef.extend({ disabled: z.boolean() }), nothing),
  /** A link to a new password; whoever is invited and has lost theirs gets another invitation. */
  'person.reset': rulesSite(personRef, madeLink),
  'person.signOut': rulesSite(personRef, nothing),
  /** One's own name and e-mail; for another e-mail the password has to be given. */
  'self.save': edits(z.object({ name: personNameSchema, email: emailSchema, password: z.string().max(200).optional() }), nothing),
  /** What the stand-in for a mail service was given to send. */
  'mail.list': seesAll(nothing, z.object({ on: z.boolean(), mails: z.array(keptMail) })),
  /** All that is kept of a visitor; and away with it. */
  'visitor.show': seesAll(visitorQuestion, visitorView.nullable()),
  'visitor.erase': rulesSite(visitorRef, z.object({ events: z.number(), entries: z.number() })),
  /** Who did what to what. */
  'trail.list': seesAll(trailFilter.extend({ page: paging.page }), listOf(trailLine)),
  'trail.table': seesAll(trailFilter, z.object({ csv: z.string() })),
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
