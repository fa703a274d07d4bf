import * as z from 'zod'
import { takenOffSchema } from '@/contract/contract'
import { conditionSchema, segmentSchema } from '@/core/decide'
import { documentSchema } from '@/core/document'
import { designSchema, gainPlanSchema, laterEpochSchema, roundSchema, versionSchema } from '@/core/experiment'
import { goalSchema } from '@/core/goals'
import { documentIdSchema, goalIdSchema, nodeIdSchema } from '@/core/ids'
import { pageAddressSchema } from '@/core/page-address'
import { rowTables } from '../ledger/rows'
import { settingsSchema } from '../stores/settings'
import { decisionSchema, noteSchema } from '../stores/tests'

/** What the archive of a site may hold of each kind. */
export const MOST_ENTRIES = 20_000
const MOST_COUNTS = 500_000

/** How a site is set up, without what is of one installation alone. */
export const archivedSettingsSchema = settingsSchema.omit({ demonstration: true, mail: true })

const place = { document: documentIdSchema, node: nodeIdSchema }
const rulesSchema = z.object({
  ...place,
  rules: z
    .array(z.object({ version: versionSchema, condition: conditionSchema }))
    .min(1)
    .max(50),
  /** As it is measured now; what is planned for the next publish is with the plans. */
  measured: gainPlanSchema.omit({ smallestEffect: true }),
})
const memory = { notes: z.array(noteSchema).default([]), tags: z.array(z.string()).default([]) }

/** `site.json`: all of a site but its files and what was found out about it. The first version had less of it. */
export const archivedSiteSchema = z.object({
  format: z.literal('upbeat-sprig-site'),
  version: z.literal([1, 2]),
  settings: archivedSettingsSchema.nullable().default(null),
  documents: z
    .array(
      z.object({ draft: documentSchema, published: documentSchema.nullable(), position: z.number().int().min(0).max(1_000_000) }),
    )
    .max(20_000),
  versions: z
    .array(
      versionSchema.extend({
        ...place,
        manner: z.enum(['chance', 'rule']),
        condition: conditionSchema.nullable(),
        test: z.number().int().nullable(),
      }),
    )
    .max(50_000),
  tests: z.array(z.object({ number: z.number().int(), design: designSchema, ...memory })).max(10_000),
  /** That rules and tests name; older archives have none. */
  segments: z.array(segmentSchema).max(200).default([]),
  goals: z.array(goalSchema).max(500),
  /** Of goals that are archived, or are being changed: what of them counts. */
  goalStates: z
    .array(z.object({ goal: goalIdSchema, published: goalSchema.nullable(), archived: z.boolean() }))
    .max(500)
    .default([]),
  campaigns: z.array(z.string().trim().min(1).max(120)).max(1000),
  media: z.array(z.object({ name: z.string(), title: z.string().max(200), alt: z.string().max(500) })).max(MOST_ENTRIES),
  /** Rules that are live, part by part. */
  rules: z.array(rulesSchema).max(5000).default([]),
  plans: z
    .array(z.object({ ...place, plan: gainPlanSchema }))
    .max(5000)
    .default([]),
  redirects: z
    .array(z.object({ from: pageAddressSchema, document: documentIdSchema }))
    .max(20_000)
    .default([]),
  /** Settled tests, each with all that was found out in a file of its own under `history/`. */
  history: z
    .array(
      z.object({
        number: z.number().int().min(1),
        name: z.string().max(200),
        /** When it was decided, which no other test of this name was. */
        at: z.iso.datetime(),
        documents: z.array(documentIdSchema).max(4),
        versions: z.array(versionSchema.shape.id).max(200),
      }),
    )
    .max(10_000)
    .default([]),
  /** The notebook’s entries of rules that were taken off. */
  takenOff: z
    .array(z.object({ id: z.string().max(60), name: z.string().max(200), body: takenOffSchema, at: z.coerce.date() }))
    .max(5000)
    .default([]),
  /** What of the site is not in the archive, in words. */
  leftOut: z.array(z.string().max(200)).max(60).default([]),
})
export type ArchivedSite = z.output<typeof archivedSiteSchema>

/** The books in which rounds are counted. */
export const roundBooks = rowTables.filter(({ columns }) => columns[0] === 'round_id')

const countsSchema = z.partialRecord(
  z.enum(roundBooks.map(({ book }) => book)),
  z.array(z.array(z.union([z.string().max(400), z.number()])).max(20)).max(MOST_COUNTS),
)

/** A settled test with its rounds, what was counted in them, and what its versions looked like. */
export const archivedTestSchema = z.object({
  number: z.number().int().min(1),
  design: designSchema,
  decision: decisionSchema,
  earlier: z.array(decisionSchema),
  ...memory,
  createdAt: z.coerce.date(),
  createdBy: z.string().max(120),
  startedAt: z.coerce.date().nullable(),
  settledAt: z.coerce.date(),
  versions: z.array(versionSchema.extend({ ...place, position: z.number().int().min(0) })).max(200),
  rounds: z
    .array(
      z.object({
        snapshot: roundSchema,
        startedAt: z.coerce.date(),
        endedAt: z.coerce.date(),
        pauses: z.array(z.object({ from: z.coerce.date(), to: z.coerce.date().nullable() })),
        reweighed: z.array(laterEpochSchema),
      }),
    )
    .max(1000),
  /** By book: rows of its key and its sums, in the order of the book. */
  counts: countsSchema,
  pictures: z.array(z.object({ which: z.enum(['original', 'chosen']), html: z.string().max(2_000_000) })).max(2),
})
export type ArchivedTest = z.output<typeof archivedTestSchema>
