import * as z from 'zod'
import { attributesSchema, conditionSchema, segmentSchema } from '@/core/decide'
import { statuses } from '@/core/experiment'
import { documentIdSchema, goalIdSchema, nodeIdSchema, segmentIdSchema, testIdSchema, versionIdSchema } from '@/core/ids'
import { asks, edits, lock, nothing, when } from './action'
import { gainView, reachView } from './personalizations'
import { audienceView } from './tests'

const fields = { name: segmentSchema.shape.name, condition: segmentSchema.shape.condition }

export const segmentView = z.object({
  id: segmentIdSchema,
  name: z.string(),
  condition: conditionSchema,
  lock,
  at: when,
  by: z.string(),
  size: audienceView,
  /** Of a sample of the last 28 days, on which day they came last; `null` where nothing is known of them. */
  days: z.array(z.number()).nullable(),
  /** Of those who came lately and whom it fits, how many each other segment fits as well; those with most first. */
  overlaps: z.array(z.object({ id: segmentIdSchema, name: z.string(), both: z.number(), of: z.number() })),
  rules: z.array(
    z.object({ version: versionIdSchema, name: z.string(), document: documentIdSchema, title: z.string(), node: nodeIdSchema }),
  ),
  tests: z.array(z.object({ id: testIdSchema, name: z.string(), status: z.enum(statuses) })),
  /** Pages on which rules that name it are live: a change of it is one for their visitors. */
  live: z.array(z.object({ id: documentIdSchema, title: z.string() })),
})
export type SegmentView = z.infer<typeof segmentView>

/** A part of a page with its rules, in their order. */
export const ruledPart = z.object({
  document: documentIdSchema,
  title: z.string(),
  node: nodeIdSchema,
  /** What it says, or what kind of component it is. */
  part: z.string(),
  live: z.boolean(),
  /** Whether its rules are as they are live. */
  changed: z.boolean(),
  /** Basis points of those who match that are held out; 0 where nothing of it is counted. */
  holdout: z.number(),
  /** What all rules together gain; `null` where there is one, or nothing is counted. */
  together: gainView.nullable(),
  rules: z.array(
    z.object({
      version: versionIdSchema,
      name: z.string(),
      condition: conditionSchema,
      reach: reachView,
      gain: gainView.nullable(),
    }),
  ),
})
export type RuledPart = z.infer<typeof ruledPart>

export const segmentActions = {
  /** What conditions may speak of: segments, goals that a browser can tell, what the site says of visitors, and tests. */
  'segment.around': asks(
    nothing,
    z.object({
      segments: z.array(z.object({ id: segmentIdSchema, name: z.string() })),
      goals: z.array(z.object({ id: goalIdSchema, name: z.string() })),
      attributes: attributesSchema,
      tests: z.array(
        z.object({
          id: testIdSchema,
          name: z.string(),
          versions: z.array(z.object({ id: versionIdSchema, name: z.string() })),
        }),
      ),
    }),
  ),
  'segment.list': asks(
    nothing,
    z.object({
      segments: z.array(segmentView),
      pages: z.array(z.object({ id: documentIdSchema, title: z.string() })),
      pageTypes: z.array(z.string()),
    }),
  ),
  'segment.parts': asks(nothing, z.object({ parts: z.array(ruledPart) })),
  'segment.create': edits(z.object(fields), z.object({ id: segmentIdSchema })),
  /** Where live rules name it, only publishers may, and it goes live with this. */
  'segment.save': edits(z.object({ id: segmentIdSchema, lock, ...fields }), z.object({ lock, release: z.number().nullable() })),
  'segment.remove': edits(z.object({ id: segmentIdSchema }), nothing),
}
