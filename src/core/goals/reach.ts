import type { GoalId } from '../ids'
import type { Happening, VisitorEvent } from '../events'
import type { Goal, Library } from './goal'
import { kindOf } from './kinds'
import type { Whereabouts } from './kinds/kind'

const NONE: readonly GoalId[] = []

/**
 * Whether this event is what the goal counts, whoever did it and whatever they were shown. A funnel is reached by no
 * single event: its steps are walked, one event after the other.
 */
export function reaches(goal: Goal, event: VisitorEvent, library: Library, within: readonly GoalId[] = NONE): boolean {
  return kindOf(goal.wiring).reaches(goal.wiring, event, (id) => {
    const part = partWithin(goal, id, library, within)
    return part !== undefined && reaches(part, event, library, [...within, goal.id])
  })
}

/** What somebody does who reaches this goal, in order: for simulated visitors. */
export function doing(goal: Goal, library: Library, at: Whereabouts, within: readonly GoalId[] = NONE): readonly Happening[] {
  return kindOf(goal.wiring).doing(goal.wiring, at, (id) => {
    const part = partWithin(goal, id, library, within)
    return part === undefined ? [] : doing(part, library, at, [...within, goal.id])
  })
}

/** What is made of itself, by way of others, counts nothing by that way. */
function partWithin(goal: Goal, id: GoalId, library: Library, within: readonly GoalId[]): Goal | undefined {
  return id === goal.id || within.includes(id) ? undefined : library.get(id)
}

/** What this conversion is worth: the goal's own figure, or what was reported with an order or event. */
export function worthOf(goal: Goal, event: VisitorEvent): number {
  if (goal.worthFrom === 'fixed') return goal.worth
  if (event.kind === 'order') return event.value
  return event.kind === 'event' ? (event.value ?? goal.worth) : goal.worth
}
