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
import type { ReactNode } from 'react'

/** Rows in an order of one's own: dragged, or moved with space and the arrows. */
export function Ordered<Id extends string>({
  ids,
  label,
  numbered,
  disabled = false,
  change,
  row,
}: {
  readonly ids: readonly Id[]
  readonly label: string
  /** Whether their order means something. */
  readonly numbered: boolean
  readonly disabled?: boolean
  readonly change: (ids: Id[]) => void
  /** What is taken hold of, and what stands beside it. */
  readonly row: (id: Id) => { readonly grip: ReactNode; readonly beside: ReactNode; readonly chosen?: boolean }
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const end = ({ active, over }: DragEndEvent) => {
    const [from, to] = [ids.indexOf(active.id as Id), ids.indexOf((over?.id ?? '') as Id)]
    if (from >= 0 && to >= 0 && from !== to) change(arrayMove([...ids], from, to))
  }
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={end}>
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        <ol aria-label={label} className={numbered ? 'in-order numbered' : 'in-order'}>
          {ids.map((id) => (
            <Row key={id} id={id} disabled={disabled} {...row(id)} />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  )
}

function Row({
  id,
  disabled,
  grip,
  beside,
  chosen = false,
}: {
  id: string
  disabled: boolean
  grip: ReactNode
  beside: ReactNode
  chosen?: boolean
}) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id, disabled })
  return (
    <li ref={setNodeRef} className={chosen ? 'chosen' : ''} style={{ transform: CSS.Transform.toString(transform), transition }}>
      <button type="button" className="grip" {...attributes} {...listeners}>
        {grip}
      </button>
      {beside}
    </li>
  )
}
