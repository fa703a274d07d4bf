import * as z from 'zod'
import { conditionSchema } from '@/core/decide'
import { gainPlanSchema, partSchema, readings } from '@/core/experiment'
import { documentIdSchema, goalIdSchema, nodeIdSchema, roundIdSchema, testIdSchema, versionIdSchema } from '@/core/ids'
import { asks, edits, goesLive, listOf, lock, nothing, paging, when } from './action'
import { resultView } from './results'

/** What a rule gains in short, or all rules of a part together. */
export const gainView = z.object({
  round: roundIdSchema,
  sentence: z.string(),
  reading: z.enum(readings),
  /** Who saw what the rule shows, and who was held out and saw the original. */
  shown: z.number(),
  held: z.number(),
  since: when,
})
export type GainView = z.infer<typeof gainView>

/** Who is shown the version of a rule, as the first rule that fits wins. */
export const reachView = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('never'), because: z.enum(['above', 'nobody']) }),
  z.object({ kind: z.literal('unknown') }),
  z.object({ kind: z.literal('share'), fitting: z.number(), shown: z.number(), of: z.number() }),
])

export const personalizationView = z.object({
  document: documentIdSchema,
  node: nodeIdSchema,
  title: z.string(),
  part: z.string(),
  live: z.boolean(),
  /** Whether its rules, and how they are counted, are as they are live. */
  changed: z.boolean(),
  /** As they stand on its shelf, in their order. */
  rules: z.array(z.object({ version: versionIdSchema, name: z.string(), condition: conditionSchema, reach: reachView })),
  plan: gainPlanSchema,
  lock,
  /** All that it could go by. */
  goals: z.array(z.object({ id: goalIdSchema, name: z.string() })),
  /** Those that are counted now first, then the newest. */
  rounds: z.array(
    z.object({
      id: roundIdSchema,
      /** `null`: all rules together. */
      rule: versionIdSchema.nullable(),
      name: z.string(),
      number: z.number(),
      goals: z.array(goalIdSchema),
      holdout: z.number(),
      since: when,
      until: when.nullable(),
    }),
  ),
})
export type PersonalizationView = z.infer<typeof personalizationView>

const arm = z.object({ name: z.string(), exposed: z.number(), rate: z.number().nullable() })

/** What the notebook says of rules that were taken off. */
export const takenOffSchema = z.object({
  document: documentIdSchema,
  node: nodeIdSchema,
  page: z.string(),
  goal: z.string(),
  by: z.string(),
  since: when,
  lesson: z.string(),
  /** `null` where there was one rule only. */
  together: z.object({ sentence: z.string(), reading: z.enum(readings), arms: z.array(arm) }).nullable(),
  rules: z.array(
    z.object({
      name: z.string(),
      condition: conditionSchema,
      sentence: z.string(),
      reading: z.enum(readings),
      arms: z.array(arm),
    }),
  ),
})
export type TakenOff = z.infer<typeof takenOffSchema>

export const takenOffLine = takenOffSchema.extend({ id: z.string(), name: z.string(), at: when })
export type TakenOffLine = z.infer<typeof takenOffLine>

/** A version of a past test that may suit some visitors. */
export const suggestionView = z.object({
  test: testIdSchema,
  name: z.string(),
  goal: z.string(),
  document: documentIdSchema,
  node: nodeIdSchema,
  title: z.string(),
  version: versionIdSchema,
  versionName: z.string(),
  condition: conditionSchema,
  here: z.object({ version: z.number(), original: z.number() }),
  elsewhere: z.object({ version: z.number(), original: z.number() }),
  visitors: z.number(),
})
export type SuggestionView = z.infer<typeof suggestionView>

export const personalizationActions = {
  /** From what is over: nothing of it is switched on by itself. */
  'personalization.suggested': asks(nothing, z.object({ suggestions: z.array(suggestionView) })),
  'personalization.read': asks(partSchema, personalizationView),
  'personalization.result': asks(
    z.object({ round: roundIdSchema, goal: goalIdSchema.nullable().default(null) }),
    resultView.nullable(),
  ),
  /** How it is found out what the rules gain; it goes live with the next publish. */
  'personalization.plan': edits(partSchema.extend({ lock, plan: gainPlanSchema }), z.object({ lock })),
  'personalization.publish': goesLive(partSchema, z.object({ release: z.number() })),
  'personalization.withdraw': goesLive(
    partSchema.extend({ lesson: z.string().max(4000).default('') }),
    z.object({ release: z.number() }),
  ),
  /** Entries of the notebook. */
  'personalization.ended': asks(z.object(paging), listOf(takenOffLine)),
  'personalization.learned': edits(z.object({ id: z.string().max(40), lesson: z.string().max(4000) }), nothing),
}
