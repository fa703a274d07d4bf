import * as z from 'zod'
import { goalIdSchema, type GoalId } from '../ids'
import { kindOf, wiringSchema } from './kinds'
import type { Need } from './kinds/kind'

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
export function partsOfGoal(goal: Goal): readonly GoalId[] {
  const need = needOf(goal)
  return need.kind === 'goals' ? need.of : []
}

/** What must be there before a goal can be reached. */
export function needOf({ wiring }: Goal): Need {
  return kindOf(wiring).needs(wiring)
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
