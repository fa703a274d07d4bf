import murmurhash from 'murmurhash'
import * as z from 'zod'
import { adaptiveSchema, scheduleSchema } from './schedule-schema'
import { conditionSchema, EVERYBODY, keepings, ORIGINAL, segmentSchema, WHOLE } from '../decide'
import { editsSchema, type Edit } from '../document'
import { goalSchema } from '../goals'
import {
  documentIdSchema,
  goalIdSchema,
  nodeIdSchema,
  roundIdSchema,
  testIdSchema,
  versionIdSchema,
  type DocumentId,
  type GoalId,
  type VersionId,
} from '../ids'

const basisPoints = z.number().int().min(0).max(WHOLE)
export const MOST_ARMS = 36

/**
 * One of the versions that visitors are divided between. In a test of several parts an arm is a combination: `levels`
 * names what each part shows, in the order of the parts, and `version` is the combination's own id. In a test of one
 * part `levels` is empty and `version` is what that part shows.
 */
export const armSchema = z.object({
  version: versionIdSchema,
  weight: basisPoints,
  levels: z.array(versionIdSchema).max(4).default([]),
})
export type DesignArm = Readonly<z.infer<typeof armSchema>>

/** Where versions stand: a component of a page, or the root of a menu, a call to action, a style, a whole page. */
export const partSchema = z.object({ document: documentIdSchema, node: nodeIdSchema })
export type TestedPart = Readonly<z.infer<typeof partSchema>>

const sentence = z.string().max(2000)

/** What an editor says about a test before it starts. Everything may be unfinished: readiness says what is missing. */
export const designSchema = z.object({
  name: z.string().trim().min(1, 'give the test a name').max(120),
  problem: sentence,
  change: sentence,
  expected: sentence,
  /** The first part; the only one, but for a test of combinations. */
  document: documentIdSchema,
  node: nodeIdSchema,
  /** The other parts of a test of combinations. */
  further: z.array(partSchema).max(3).default([]),
  campaign: z.string().max(40).default(''),
  /** The original is the first arm. */
  arms: z
    .array(armSchema)
    .min(1)
    .max(MOST_ARMS)
    // In whatever order they are written, the original is the first here.
    .overwrite((arms) => [...arms].sort((one, other) => Number(other.version === ORIGINAL) - Number(one.version === ORIGINAL)))
    .refine((arms) => arms[0]?.version === ORIGINAL, 'one of the arms is the original')
    .meta({ contains: { type: 'object', properties: { version: { const: ORIGINAL } }, required: ['version'] } })
    .refine((arms) => new Set(arms.map(({ version }) => version)).size === arms.length, 'a version stands in the test once'),
  /** For how long a visitor keeps a version. */
  keeping: z.enum(keepings).default('browser'),
  /** Who takes part: of these, `share`. */
  audience: conditionSchema.default(EVERYBODY),
  share: basisPoints,
  /** The group whose tests divide its visitors between them, so that nobody is in two; empty: independent of all others. */
  group: z.string().trim().max(40).default(''),
  primary: goalIdSchema.nullable(),
  watched: z.array(goalIdSchema).max(20),
  /** Goals that must not get worse by more than a margin: 0.05 is 5% of what the original has. */
  guards: z
    .array(z.object({ goal: goalIdSchema, margin: z.number().min(0).max(1) }))
    .max(10)
    .default([]),
  /** By how much longer a page may take to be painted for one visitor in four, as a part: 0.1 is a tenth; `null`: not asked. */
  slowest: z.number().min(0).max(5).nullable().default(null),
  /** The smallest relative difference worth having: 0.05 is 5%. */
  smallestEffect: z.number().min(0.001).max(2),
  /** Whether the split follows what visitors do; `null`: it stays as it is set. */
  adaptive: adaptiveSchema.nullable().default(null),
  schedule: scheduleSchema.prefault({}),
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
  /** Which of its group's visitors it takes, as basis points of all; `null` without a group. */
  lots: z
    .array(z.tuple([basisPoints, basisPoints]))
    .nullable()
    .default(null),
  /** How often a version was switched off: each time, whoever had it is drawn anew, by lots that say nothing of the last. */
  drawnAgain: z.number().int().min(0).default(0),
  /** How often everybody was drawn anew, whatever they had: where a round begins with another split than that of those who come back. */
  generation: z.number().int().min(0).default(0),
  /** Visitors of the original and one variant together at which the sequence is tuned to be tightest. */
  plannedTotal: z.number().positive(),
  /** The published pages on which the test shows, for whoever has to send simulated visitors to one. */
  pages: z.array(documentIdSchema).default([]),
  /** The segments that its audience names, as they were when it began. */
  segments: z.array(segmentSchema).default([]),
  /** Why this round was opened, in words; empty for the first. */
  because: z.string().max(300).default(''),
})
export type Round = Readonly<z.infer<typeof roundSchema>>

type Parts = Pick<Design, 'document' | 'node' | 'further'>
type Arms = Parts & Pick<Design, 'arms'>

/** Every goal that a test counts: the one that decides, those that are watched, and the guards. */
export function goalsOf({ primary, watched, guards }: Pick<Design, 'primary' | 'watched' | 'guards'>): GoalId[] {
  return [...new Set([...(primary === null ? [] : [primary]), ...watched, ...guards.map(({ goal }) => goal)])]
}

export function partsOf({ document, node, further }: Parts): TestedPart[] {
  return [{ document, node }, ...further]
}

/** What each part shows in this arm, in the order of the parts. An arm that is not in the design shows the original. */
export function levelsOf(design: Arms, version: VersionId): VersionId[] {
  const levels = design.arms.find((arm) => arm.version === version)?.levels ?? []
  if (levels.length > 0) return [...levels]
  return partsOf(design).map((_, part) => (part === 0 ? version : ORIGINAL))
}

/** The edits of an arm, document by document; none for the original. */
export function changesOf(
  design: Arms,
  versions: readonly Version[],
  arm: VersionId,
): { readonly document: DocumentId; readonly edits: readonly Edit[] }[] {
  const changes = new Map<DocumentId, Edit[]>()
  const levels = levelsOf(design, arm)
  partsOf(design).forEach(({ document }, part) => {
    const edits = versions.find(({ id }) => id === levels[part])?.edits ?? []
    if (edits.length > 0) changes.set(document, [...(changes.get(document) ?? []), ...edits])
  })
  return [...changes].map(([document, edits]) => ({ document, edits }))
}

/** “Original”, a version’s name, or for a combination the names of what its parts show. */
export function armName(design: Arms, versions: readonly Pick<Version, 'id' | 'name'>[], arm: VersionId): string {
  if (arm === ORIGINAL) return 'Original'
  const name = (id: VersionId) =>
    id === ORIGINAL ? 'original' : (versions.find((version) => version.id === id)?.name ?? 'Variant')
  const levels = design.further.length === 0 ? [arm] : levelsOf(design, arm)
  return levels.map(name).join(' × ')
}

/** Those that some arm shows; one that was switched off is known and no longer shown. */
export function versionsInUse({ design, versions }: Pick<Round, 'design' | 'versions'>): Version[] {
  const used = new Set(partsOf(design).flatMap((_, part) => levelsInUse(design, part)))
  return versions.filter(({ id }) => used.has(id))
}

/** Every version of this part that some arm shows, the original first. */
export function levelsInUse(design: Arms, part: number): VersionId[] {
  return [...new Set([ORIGINAL, ...design.arms.map(({ version }) => levelsOf(design, version)[part] ?? ORIGINAL)])]
}

/** All combinations of what each part can show, the original of all first; a combination keeps its id between rounds. */
export function combinations(levels: readonly (readonly VersionId[])[]): { version: VersionId; levels: VersionId[] }[] {
  const all = levels.reduce<VersionId[][]>(
    (rows, choices) => rows.flatMap((row) => choices.map((choice) => [...row, choice])),
    [[]],
  )
  return all.map((row) => ({ version: combinationId(row), levels: row }))
}

/** The same levels always have the same id: 64 bits of MurmurHash3 over their ids. */
export function combinationId(levels: readonly VersionId[]): VersionId {
  if (levels.every((level) => level === ORIGINAL)) return ORIGINAL
  const text = levels.join('+')
  return `of-${murmurhash.v3(text).toString(36)}-${murmurhash.v3(`${text}+`).toString(36)}` as VersionId
}

/**
 * What a change begins: an `epoch` where versions stay comparable, each stretch of constant weights by itself; a `round`,
 * with empty counts, where something else is compared than before.
 */
export interface Change {
  readonly words: string
  readonly begins: 'epoch' | 'round'
}

type Consequence = Change | null | ((before: Design, after: Design) => Change)
const round = (words: string): Change => ({ words, begins: 'round' })
const epoch = (words: string): Change => ({ words, begins: 'epoch' })

/**
 * What changing each part of a design does to its result; `null` where it does nothing to it. The one place that knows:
 * what has words here is locked while visitors are drawn, but for what begins an epoch.
 */
const consequences: { readonly [Of in keyof Design]: Consequence } = {
  name: null,
  problem: null,
  change: null,
  expected: null,
  campaign: null,
  document: round('the tested parts were changed'),
  node: round('the tested parts were changed'),
  further: round('the tested parts were changed'),
  arms: epoch('the split was changed'),
  keeping: round('for how long a version is kept was changed'),
  audience: round('who takes part was changed'),
  // Whoever is left out from now on sees the original, whatever they were counted for.
  share: (before, after) =>
    (after.share < before.share ? round : epoch)(
      `the share of visitors was ${after.share < before.share ? 'lowered' : 'raised'}`,
    ),
  group: round('the group of tests that are kept apart was changed'),
  primary: round('the goals were changed'),
  watched: round('the goals were changed'),
  guards: round('the guards were changed'),
  slowest: round('the guards were changed'),
  smallestEffect: round('the smallest difference worth having was changed'),
  // It begins an epoch each time that it divides anew, not when it is switched on.
  adaptive: null,
  schedule: null,
}
/** What a goal is called does nothing to what it counts. */
const unnamed = (goal: Round['goals'][number]) => ({ ...goal, name: '' })
const differ = (one: unknown, other: unknown) => JSON.stringify(one) !== JSON.stringify(other)

/** What of a design affects its result and is not as it was before. */
export function whatAffects(before: Design, design: Design): Change[] {
  const arms = (of: Design) => new Set(of.arms.map(({ version }) => version))
  const [was, is] = [arms(before), arms(design)]
  const sameArms = was.size === is.size && [...was].every((version) => is.has(version))
  const of = Object.keys(consequences) as (keyof Design)[]
  return once([
    ...([...was].some((version) => !is.has(version)) ? [epoch('a variant was switched off')] : []),
    ...([...is].some((version) => !was.has(version)) ? [epoch('a variant was added')] : []),
    ...of.flatMap((part) => {
      // With other arms the weights are others too, which is no news of its own.
      const same = !differ(before[part], design[part]) || (part === 'arms' && !sameArms)
      const consequence = same ? null : consequences[part]
      return consequence === null ? [] : [typeof consequence === 'function' ? consequence(before, design) : consequence]
    }),
  ])
}

/** What is not as it was in the round: of the design, of what its versions show, of what its goals count. */
export function whatChanged(of: Round, design: Design, versions: readonly Version[], goals: Round['goals']): Change[] {
  const edits = (list: readonly Version[]) =>
    list.map(({ id, edits: own }) => [id, own] as const).sort(([one], [other]) => (one < other ? -1 : 1))
  const kept = versions.filter(({ id }) => of.versions.some((version) => version.id === id))
  const before = of.versions.filter(({ id }) => kept.some((version) => version.id === id))
  return once([
    ...whatAffects(of.design, design),
    ...(differ(edits(before), edits(kept)) ? [round('a variant was changed')] : []),
    ...(differ(of.goals.map(unnamed), goals.map(unnamed)) ? [round('the goals were changed')] : []),
  ])
}

function once(changes: readonly Change[]): Change[] {
  return [...new Map(changes.map((change) => [change.words, change])).values()]
}

/** What these changes begin together; `null` where there are none. */
export function whatBegins(changes: readonly Change[]): Change['begins'] | null {
  if (changes.length === 0) return null
  return changes.some(({ begins }) => begins === 'round') ? 'round' : 'epoch'
}

export function changeWords(changes: readonly Change[]): string {
  return changes.map(({ words }) => words).join(', ')
}

/** Equal weights that add up to the whole; what does not divide goes to the first arms. */
export function evenWeights(count: number): number[] {
  const each = Math.floor(WHOLE / count)
  return Array.from({ length: count }, (_, index) => each + (index < WHOLE - each * count ? 1 : 0))
}

/** Basis points below which dragging makes no part of the split. */
const SMALLEST_PART = 100

/**
 * Moves the border after an arm to another place of the whole: its neighbours give and take, all others stay.
 *
 * @param to basis points from the left
 */
export function moveBorder(weights: readonly number[], border: number, to: number): number[] {
  const [one, other] = [weights[border], weights[border + 1]]
  if (one === undefined || other === undefined) throw new RangeError(`moveBorder: no border after arm ${border}`)
  const left = weights.slice(0, border).reduce((sum, weight) => sum + weight, 0)
  const room = one + other
  const least = Math.min(SMALLEST_PART, Math.floor(room / 2))
  const width = Math.min(room - least, Math.max(least, Math.round(to) - left))
  return weights.map((weight, index) => (index === border ? width : index === border + 1 ? room - width : weight))
}
