import { goalSchema } from '@/core/goals'
import { Failure } from '../failure'
import { newId } from '../new-id'
import { readDocument } from '../stores/documents'
import { createGoal, listGoals } from '../stores/goals'
import type { Area } from './handler'

export const goalActions: Area<'goal'> = {
  'goal.list': async ({ db }) => ({ goals: await listGoals(db) }),

  'goal.create': async ({ db }, { name, wiring }) => {
    const page = await readDocument(db, wiring.document)
    if (wiring.kind === 'click' && page.draft.nodes[wiring.node] === undefined)
      throw new Failure('input', 'That component is no longer on the page. Point at another one.')
    const same = (await listGoals(db)).find((goal) => JSON.stringify(goal.wiring) === JSON.stringify(wiring))
    if (same !== undefined) return same
    const goal = goalSchema.parse({ id: newId(), name, wiring })
    await createGoal(db, goal)
    return goal
  },
}
