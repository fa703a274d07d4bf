import * as z from 'zod'
import { reaches, stepId, worthOf, type Goal, type Library } from '../goals'
import type { VisitorEvent } from '../events'
import type { GoalId } from '../ids'
import { kept, mapOf } from './codec'

const orderSchema = z.object({
  /** What refunds have left of it. */
  left: z.number(),
  /** The goals that it was counted for. */
  goals: z.array(kept<GoalId>()),
})

/** How far a visitor has come with goals: in a test from the first exposure on, for the site from the beginning. */
export const progressSchema = z.object({
  reached: mapOf(kept<GoalId>(), z.object({ times: z.number(), worth: z.number() })),
  /** Steps of funnels that are behind, in the passage that is under way. */
  steps: mapOf(kept<GoalId>(), z.number()),
  orders: mapOf(z.string(), orderSchema),
  /** Refunds of orders that have not been seen, by their number. */
  refunds: mapOf(z.string(), z.number()),
})
export type Progress = z.output<typeof progressSchema>

export const noProgress = (): Progress => ({ reached: new Map(), steps: new Map(), orders: new Map(), refunds: new Map() })

/** What an event is for one goal, or for one step of a funnel (`stepId`). */
export interface Reached {
  readonly goal: GoalId
  /** For the first time by this visitor. */
  readonly first: boolean
  /** 1; 0 for a refund, which changes worth and nothing else. */
  readonly times: 0 | 1
  /** A goal that counts once was reached again: it happened, and counts for nothing. */
  readonly again: boolean
  /** Below zero for a refund. */
  readonly worth: number
}

/**
 * The one interpreter of goals, for tests, the site’s figures and calls to action alike. A goal that counts once counts
 * the first time; a funnel moves by one step an event, and begins anew where it counts every time; a refund takes back
 * what is left of the order that it names, from every goal for which that order was counted and which takes its worth
 * from orders. A refund that is dated before its order waits for it.
 *
 * @param goals those that count at this moment
 * @param progress is changed
 */
export function advance(progress: Progress, goals: readonly Goal[], library: Library, event: VisitorEvent): Reached[] {
  if (event.kind === 'order' && event.value < 0) return refund(progress, event.order, -event.value)
  const found: Reached[] = []
  for (const goal of goals)
    if (goal.wiring.kind === 'steps') found.push(...stepOn(progress, goal, library, event))
    else if (reaches(goal, event, library)) found.push(reach(progress, goal, goal.id, worthOf(goal, event)))
  if (event.kind !== 'order') return found
  const counted = new Set(found.filter(({ again }) => !again).map(({ goal }) => goal))
  const takers = goals.filter(({ id, worthFrom }) => worthFrom === 'reported' && counted.has(id)).map(({ id }) => id)
  const known = progress.orders.get(event.order)
  progress.orders.set(event.order, { left: (known?.left ?? 0) + event.value, goals: [...(known?.goals ?? []), ...takers] })
  const waiting = progress.refunds.get(event.order)
  if (waiting === undefined) return found
  progress.refunds.delete(event.order)
  return [...found, ...refund(progress, event.order, waiting)]
}

function reach({ reached }: Progress, { counts }: Goal, id: GoalId, worth: number): Reached {
  const before = reached.get(id)
  const again = counts === 'once' && before !== undefined
  if (!again) reached.set(id, { times: (before?.times ?? 0) + 1, worth: (before?.worth ?? 0) + worth })
  return { goal: id, first: before === undefined, times: 1, again, worth: again ? 0 : worth }
}

/** The next step of a funnel, where this event is it; with the last one, the funnel itself is reached. */
function stepOn(progress: Progress, goal: Goal, library: Library, event: VisitorEvent): Reached[] {
  const steps = goal.wiring.kind === 'steps' ? goal.wiring.goals : []
  const behind = progress.steps.get(goal.id) ?? 0
  const next = steps[behind]
  const part = next === undefined ? undefined : library.get(next)
  if (part === undefined || !reaches(part, event, library)) return []
  const passed = reach(progress, { ...goal, counts: 'everyTime' }, stepId(goal.id, behind + 1), 0)
  const isThrough = behind + 1 === steps.length
  progress.steps.set(goal.id, isThrough && goal.counts === 'everyTime' ? 0 : behind + 1)
  return isThrough ? [passed, reach(progress, goal, goal.id, worthOf(goal, event))] : [passed]
}

function refund(progress: Progress, number: string, value: number): Reached[] {
  const order = progress.orders.get(number)
  if (order === undefined) {
    progress.refunds.set(number, (progress.refunds.get(number) ?? 0) + value)
    return []
  }
  const back = Math.min(order.left, value)
  if (back <= 0) return []
  progress.orders.set(number, { ...order, left: order.left - back })
  return order.goals.map((id) => {
    const before = progress.reached.get(id)
    if (before !== undefined) progress.reached.set(id, { ...before, worth: before.worth - back })
    return { goal: id, first: false, times: 0, again: false, worth: -back }
  })
}
