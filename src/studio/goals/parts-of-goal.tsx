'use client'

import { FindChoice } from '../controls/find-choice'
import { Button } from '../controls/button'
import { Ordered } from '../controls/ordered'
import type { Goal } from '@/core/goals'
import type { GoalId } from '@/core/ids'

const LEAST = 2
const MOST = 10

/** The goals that a goal is made of, ordered by dragging or with the keys; at least two. */
export function PartsOfGoal({
  ordered,
  goals,
  library,
  disabled,
  change,
}: {
  ordered: boolean
  goals: readonly GoalId[]
  library: readonly Goal[]
  disabled: boolean
  change: (goals: GoalId[]) => void
}) {
  const nameOf = (id: GoalId) => library.find((goal) => goal.id === id)?.name ?? 'a goal that is gone'
  const free = library.filter(({ id }) => !goals.includes(id))
  return (
    <div className="parts-of-goal">
      <Ordered
        ids={goals}
        label={ordered ? 'Steps' : 'Goals it is made of'}
        numbered={ordered}
        disabled={disabled}
        change={change}
        row={(id) => ({
          grip: nameOf(id),
          beside:
            goals.length <= LEAST ? null : (
              <Button
                size="small"
                look="quiet"
                disabled={disabled}
                onClick={() => change(goals.filter((one) => one !== id))}
                aria-label={`Take “${nameOf(id)}” out`}
              >
                Take out
              </Button>
            ),
        })}
      />
      {goals.length >= MOST ? null : (
        <FindChoice
          aria-label={ordered ? 'Add a step' : 'Add a goal'}
          className="broad"
          placeholder={ordered ? 'Add a step …' : 'Add a goal …'}
          disabled={disabled || free.length === 0}
          value={null}
          options={free.map(({ id, name }) => ({ value: id as string, label: name }))}
          change={(id: string | null) => id !== null && change([...goals, id as GoalId])}
        />
      )}
      <p className="quiet">Drag to order, or press space on a row and use the arrows.</p>
    </div>
  )
}
