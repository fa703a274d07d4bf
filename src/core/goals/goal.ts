import * as z from 'zod'
import { documentIdSchema, goalIdSchema, nodeIdSchema, type GoalId } from '../ids'

/** A name that several components carry, so that a press on any of them is one goal. */
export const markerSchema = z.string().regex(/^[a-z][a-z0-9-]{0,39}$/, 'a marker has small letters, digits and “-”, 1 to 40')

/** The name of something reported by a script, a snippet or a server. */
export const eventNameSchema = z
  .string()
  .regex(/^[a-z][a-z0-9._-]{0,59}$/, 'an event’s name begins with a small letter and has small letters, digits, “.”, “_” and “-”')

const address = z.string().trim().min(1, 'give the address').max(300)
const parts = (least: number, words: string) => z.array(goalIdSchema).min(least, words).max(10)

/** What a goal counts. */
export const wiringSchema = z.discriminatedUnion('kind', [
  /** A press on a component, or on something in it. */
  z.object({ kind: z.literal('click'), document: documentIdSchema, node: nodeIdSchema }),
  /** A press on anything that carries the marker. */
  z.object({ kind: z.literal('marker'), marker: markerSchema }),
  /** The service behind the form accepted what was sent. */
  z.object({ kind: z.literal('form'), document: documentIdSchema, node: nodeIdSchema }),
  /** A page is shown: this one, every one of a type, or by its address. */
  z.object({ kind: z.literal('page'), document: documentIdSchema }),
  z.object({ kind: z.literal('pageType'), pageType: z.string().trim().min(1, 'choose the page type').max(120) }),
  z.object({ kind: z.literal('address'), by: z.enum(['is', 'startsWith', 'contains']), text: address }),
  /** A link to elsewhere is followed. */
  z.object({ kind: z.literal('outbound'), by: z.enum(['host', 'is', 'startsWith']), text: address }),
  /** A component was in view long enough to be read. */
  z.object({ kind: z.literal('read'), document: documentIdSchema, node: nodeIdSchema }),
  /** One page was looked at this long. */
  z.object({ kind: z.literal('stay'), seconds: z.number().int().min(1).max(3600) }),
  /** Did not bounce: did something on the first page of a visit, went on from it, or stayed this long. */
  z.object({ kind: z.literal('noBounce'), seconds: z.number().int().min(1).max(600) }),
  /** An order was reported. */
  z.object({ kind: z.literal('order') }),
  z.object({ kind: z.literal('event'), event: eventNameSchema }),
  /** One of other goals. */
  z.object({ kind: z.literal('anyOf'), goals: parts(2, 'choose at least two goals') }),
  /** Other goals, all of them, in this order. */
  z.object({ kind: z.literal('steps'), goals: parts(2, 'a funnel has at least two steps') }),
])
export type Wiring = Readonly<z.infer<typeof wiringSchema>>
export type WiringKind = Wiring['kind']

export const goalSchema = z.object({
  id: goalIdSchema,
  name: z.string().trim().min(1, 'give the goal a name').max(120),
  wiring: wiringSchema,
  /** What one conversion is worth, in `worthIn`. */
  worth: z.number().min(0).max(1_000_000).default(1),
  /** Points, or money in the currency of the site. */
  worthIn: z.enum(['points', 'money']).default('points'),
  /** `reported`: an order or event says its own worth. */
  worthFrom: z.enum(['fixed', 'reported']).default('fixed'),
  counts: z.enum(['once', 'everyTime']).default('once'),
  /** Days after the first exposure within which a conversion is credited. */
  withinDays: z.number().int().min(1).max(90).default(14),
})
export type Goal = Readonly<z.infer<typeof goalSchema>>

/** Goals by id, for those that are made of others. */
export type Library = ReadonlyMap<GoalId, Goal>

/** Whether two forms of a goal count the same: by whatever name. */
export function countsAlike(one: Goal, other: Goal): boolean {
  const unnamed = (goal: Goal) => JSON.stringify({ ...goal, name: '' })
  return unnamed(one) === unnamed(other)
}

export function libraryOf(goals: readonly Goal[]): Library {
  return new Map(goals.map((goal) => [goal.id, goal]))
}

/** The goals that a goal is directly made of; none for the others. */
export function partsOfGoal({ wiring }: Goal): readonly GoalId[] {
  return wiring.kind === 'anyOf' || wiring.kind === 'steps' ? wiring.goals : []
}

/** These goals, then all that they are made of, each once. */
export function withParts(ids: readonly GoalId[], library: Library): Goal[] {
  const found = new Map<GoalId, Goal>()
  const visit = (id: GoalId) => {
    const goal = library.get(id)
    if (goal === undefined || found.has(id)) return
    found.set(id, goal)
    partsOfGoal(goal).forEach(visit)
  }
  ids.forEach(visit)
  return [...found.values()]
}

/** Why a goal cannot be made of these others, in words; `null` if it can. Funnels hold no funnels, and nothing holds itself. */
export function partsFault(goal: Goal, library: Library): string | null {
  for (const id of partsOfGoal(goal)) {
    const part = library.get(id)
    if (part === undefined) return 'One of the goals it is made of is gone. Take it out.'
    if (part.wiring.kind === 'steps') return `“${part.name}” is a funnel; a goal cannot be made of funnels.`
    if (withParts([id], library).some((one) => one.id === goal.id)) return `“${part.name}” is made of this goal.`
  }
  return null
}

/** The funnel's own count of those who passed a step, counted from one, as a goal of its own. */
export function stepId(goal: GoalId, step: number): GoalId {
  return `${goal}--${step}` as GoalId
}
