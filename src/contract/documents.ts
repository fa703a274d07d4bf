import * as z from 'zod'
import { conditionSchema } from '@/core/decide'
import { documentKinds, documentSchema, editsSchema } from '@/core/document'
import { manners, outcomes, versionSchema } from '@/core/experiment'
import { documentIdSchema, goalIdSchema, idText, nodeIdSchema, testIdSchema, versionIdSchema } from '@/core/ids'
import { pageAddressSchema } from '@/core/page-address'
import { asks, edits, goesLive, lock, nothing, pageStates, placeLine, testBrief, versionView, when } from './action'
import { mediaName } from './library'

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

export const documentActions = {
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
      path: pageAddressSchema.nullable().default(null),
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
}
