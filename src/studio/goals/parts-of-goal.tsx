'use client'

import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core'
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { FindChoice } from '../controls/find-choice'
import { Button } from '../controls/button'
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
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const end = ({ active, over }: DragEndEvent) => {
    const [from, to] = [goals.indexOf(active.id as GoalId), goals.indexOf((over?.id ?? '') as GoalId)]
    if (from >= 0 && to >= 0 && from !== to) change(arrayMove([...goals], from, to))
  }
  const nameOf = (id: GoalId) => library.find((goal) => goal.id === id)?.name ?? 'a goal that is gone'
  const free = library.filter(({ id }) => !goals.includes(id))
  return (
    <div className="parts-of-goal">
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={end}>
        <SortableContext items={[...goals]} strategy={verticalListSortingStrategy}>
          <ol aria-label={ordered ? 'Steps' : 'Goals it is made of'} className={ordered ? 'ordered' : ''}>
            {goals.map((id) => (
              <PartRow
                key={id}
                id={id}
                name={nameOf(id)}
                disabled={disabled}
                out={goals.length <= LEAST ? null : () => change(goals.filter((one) => one !== id))}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
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

function PartRow({ id, name, disabled, out }: { id: GoalId; name: string; disabled: boolean; out: (() => void) | null }) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id, disabled })
  return (
    <li ref={setNodeRef} style={{ transform: CSS.Transform.toString(transform), transition }}>
      <button type="button" className="grip" {...attributes} {...listeners}>
        {name}
      </button>
      {out === null ? null : (
        <Button size="small" look="quiet" disabled={disabled} onClick={out} aria-label={`Take “${name}” out`}>
          Take out
        </Button>
      )}
    </li>
  )
}
