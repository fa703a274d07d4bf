import * as z from 'zod'
import { attributesSchema, conditionSchema } from '@/core/decide'
import { documentIdSchema, nodeIdSchema, testIdSchema, versionIdSchema } from '@/core/ids'
import { madeUpSchema } from '@/core/lens'
import { asks, edits, miniatureView, nothing, when } from './action'

/** Why a version is shown, in the terms of deciding. */
const reasonView = z.object({
  code: z.enum([
    'leftOut',
    'paused',
    'otherAudience',
    'outsideShare',
    'kept',
    'drawn',
    'ruleMatched',
    'heldOut',
    'noRuleMatched',
  ]),
  /** The place of the rule, where there is one. */
  rule: z.number().nullable(),
})

/** One part that varies: what somebody is shown of it. */
export const lensPart = z.object({
  key: z.string(),
  document: documentIdSchema,
  node: nodeIdSchema,
  title: z.string(),
  part: z.string(),
  /** The test that draws here; `null` where it goes by rule. */
  test: z
    .object({ id: testIdSchema, name: z.string(), share: z.number(), paused: z.boolean(), asks: conditionSchema })
    .nullable(),
  version: versionIdSchema,
  versionName: z.string(),
  reason: reasonView,
  holdout: z.number(),
  /** The rules in their order, with what segments ask in their place. */
  rules: z.array(z.object({ version: versionIdSchema, name: z.string(), asks: conditionSchema })),
})
export type LensPart = z.infer<typeof lensPart>

export const savedVisitor = z.object({ id: z.string(), name: z.string(), visitor: madeUpSchema, by: z.string(), at: when })
export type SavedVisitor = z.infer<typeof savedVisitor>

const page = z.object({ id: documentIdSchema, title: z.string(), path: z.string(), pageType: z.string() })

export const lensActions = {
  /** A published page as this visitor would be sent it now; the front page where none is named. */
  'lens.look': asks(
    z.object({ page: documentIdSchema.nullable(), visitor: madeUpSchema }),
    z.object({
      page,
      html: z.string(),
      /** Sent on from the page that was asked for. */
      isSentOn: z.boolean(),
      parts: z.array(lensPart),
    }),
  ),
  /** Every published page, and what a visitor can be said to be. */
  'lens.around': asks(
    nothing,
    z.object({ pages: z.array(page), attributes: attributesSchema, today: z.string(), hour: z.number() }),
  ),
  /** Saved visitors beside all that varies on the site. */
  'lens.matrix': asks(
    z.object({
      visitors: z
        .array(z.object({ name: z.string().max(80), visitor: madeUpSchema }))
        .min(1)
        .max(40),
    }),
    z.object({
      columns: z.array(
        z.object({
          key: z.string(),
          document: documentIdSchema,
          title: z.string(),
          part: z.string(),
          test: z.string().nullable(),
          versions: z.array(z.object({ version: versionIdSchema, name: z.string(), miniature: miniatureView })),
        }),
      ),
      rows: z.array(z.object({ name: z.string(), cells: z.array(z.object({ version: versionIdSchema, reason: reasonView })) })),
    }),
  ),
  'lens.saved': asks(nothing, z.object({ visitors: z.array(savedVisitor) })),
  'lens.save': edits(
    z.object({ name: z.string().trim().min(1, 'give the visitor a name').max(80), visitor: madeUpSchema }),
    z.object({ id: z.string() }),
  ),
  'lens.remove': edits(z.object({ id: z.string().max(40) }), nothing),
}
