import * as z from 'zod'
import { ORIGINAL, WHOLE } from '../decide'
import { editsSchema } from '../document'
import { goalSchema } from '../goals'
import { documentIdSchema, goalIdSchema, nodeIdSchema, roundIdSchema, testIdSchema, versionIdSchema } from '../ids'

const basisPoints = z.number().int().min(0).max(WHOLE)

export const armSchema = z.object({ version: versionIdSchema, weight: basisPoints })

const sentence = z.string().max(2000)

/** What an editor says about a test before it starts. Everything may be unfinished: readiness says what is missing. */
export const designSchema = z.object({
  name: z.string().trim().min(1, 'give the test a name').max(120),
  problem: sentence,
  change: sentence,
  expected: sentence,
  document: documentIdSchema,
  node: nodeIdSchema,
  /** The original is the first arm. */
  arms: z
    .array(armSchema)
    .min(1)
    .max(12)
    .refine((arms) => arms[0]?.version === ORIGINAL, 'the original comes first')
    .refine((arms) => new Set(arms.map(({ version }) => version)).size === arms.length, 'a version stands in the test once'),
  share: basisPoints,
  primary: goalIdSchema.nullable(),
  watched: z.array(goalIdSchema).max(20),
  /** The smallest relative difference worth having: 0.05 is 5%. */
  smallestEffect: z.number().min(0.001).max(2),
})
export type Design = Readonly<z.infer<typeof designSchema>>

/** A version of a part: what an editor made, as a list of edits to the document it stands in. */
export const versionSchema = z.object({
  id: versionIdSchema,
  name: z.string().trim().min(1, 'give the version a name').max(80),
  edits: editsSchema,
})
export type Version = Readonly<z.infer<typeof versionSchema>>

/** A stretch of a test in which nothing changed that affects its result. Never altered once it has started. */
export const roundSchema = z.object({
  id: roundIdSchema,
  test: testIdSchema,
  number: z.number().int().min(1),
  design: designSchema,
  versions: z.array(versionSchema),
  goals: z.array(goalSchema),
  salt: z.string().min(1),
  /** Visitors of the original and one variant together at which the sequence is tuned to be tightest. */
  plannedTotal: z.number().positive(),
})
export type Round = Readonly<z.infer<typeof roundSchema>>

/** Does going on with this design need a new round? Names and the question do not affect a result. */
export function affectsResult(round: Round, design: Design, versions: readonly Version[], goals: Round['goals']): boolean {
  const essence = (
    of: Pick<Design, 'arms' | 'share' | 'primary' | 'watched' | 'node' | 'document'>,
    list: readonly Version[],
    counted: Round['goals'],
  ) =>
    JSON.stringify([
      of.document,
      of.node,
      of.arms,
      of.share,
      of.primary,
      of.watched,
      list.map(({ id, edits }) => [id, edits]),
      counted,
    ])
  return essence(round.design, round.versions, round.goals) !== essence(design, versions, goals)
}

/** Equal weights that add up to the whole; what does not divide goes to the first arms. */
export function evenWeights(count: number): number[] {
  const each = Math.floor(WHOLE / count)
  return Array.from({ length: count }, (_, index) => each + (index < WHOLE - each * count ? 1 : 0))
}
