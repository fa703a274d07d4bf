'use client'

import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
  type DragMoveEvent,
} from '@dnd-kit/core'
import { SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type ReactNode } from 'react'
import { ancestorsOf, nodeAt, parentOf, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { landingByKey, mayHold, type Landing } from './landing'

const STEP = 18

export interface TreeListProps {
  readonly document: ContentDocument
  readonly label: string
  readonly selected: NodeId | null
  readonly select: (node: NodeId) => void
  readonly move: ((node: NodeId, landing: Landing) => void) | null
  readonly row: (node: NodeId) => ReactNode
  /** Whether the root is a row of its own. */
  readonly withRoot?: boolean
  readonly onKey?: (event: KeyboardEvent, node: NodeId) => void
}

interface Row {
  readonly id: NodeId
  readonly depth: number
}

/**
 * A tree as rows: dragged up and down to order, left and right to promote and demote. By keyboard Alt with the arrows
 * does the same, and the arrows alone walk.
 */
export function TreeList(props: TreeListProps) {
  const { document, label, selected, select, move, withRoot } = props
  const [dragged, setDragged] = useState<NodeId | null>(null)
  const [shift, setShift] = useState(0)
  const rows = useMemo(() => rowsOf(document, withRoot ?? false), [document, withRoot])
  const shown = useMemo(
    () => rows.filter(({ id }) => dragged === null || id === dragged || !ancestorsOf(document, id).includes(dragged)),
    [rows, dragged, document],
  )
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, {
      coordinateGetter: sortableKeyboardCoordinates,
      keyboardCodes: { start: ['KeyM'], cancel: ['Escape'], end: ['KeyM', 'Enter'] },
    }),
  )
  const end = ({ active, over }: DragEndEvent) => {
    setDragged(null)
    const node = active.id as NodeId
    if (over === null || move === null) return
    const landing = landingIn(document, shown, node, over.id as NodeId, Math.round(shift / STEP))
    if (landing !== null) move(node, landing)
  }
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragStart={({ active }) => {
        setDragged(active.id as NodeId)
        setShift(0)
      }}
      onDragMove={({ delta }: DragMoveEvent) => setShift(delta.x)}
      onDragEnd={end}
      onDragCancel={() => setDragged(null)}
    >
      <SortableContext items={shown.map(({ id }) => id)} strategy={verticalListSortingStrategy}>
        <ul role="tree" aria-label={label} className="tree-list">
          {shown.map((row) => (
            <TreeRow
              key={row.id}
              {...props}
              row={row}
              content={props.row(row.id)}
              shift={row.id === dragged ? Math.round(shift / STEP) : 0}
              first={selected === null && row === shown[0]}
              rows={shown}
              choose={select}
            />
          ))}
        </ul>
      </SortableContext>
    </DndContext>
  )
}

function TreeRow({
  document,
  row: { id, depth },
  content,
  selected,
  move,
  shift,
  first,
  rows,
  choose,
  onKey,
}: Omit<TreeListProps, 'row'> & {
  row: Row
  content: ReactNode
  shift: number
  first: boolean
  rows: readonly Row[]
  choose: (node: NodeId) => void
}) {
  const fixed = move === null || parentOf(document, id) === null
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id, disabled: fixed })
  const button = useRef<HTMLButtonElement>(null)
  const chosen = selected === id
  useEffect(() => {
    if (chosen) button.current?.scrollIntoView({ block: 'nearest' })
  }, [chosen])
  const key = (event: KeyboardEvent) => {
    const landing = event.altKey && move !== null ? landingByKey(document, id, event.key) : null
    if (landing !== null && move !== null) {
      event.preventDefault()
      event.stopPropagation()
      return move(id, landing)
    }
    const at = rows.findIndex((row) => row.id === id)
    const next = { ArrowDown: rows[at + 1], ArrowUp: rows[at - 1] }[event.key]
    if (next !== undefined && !event.altKey) {
      event.preventDefault()
      event.stopPropagation()
      choose(next.id)
      const list = event.currentTarget.closest('[role=tree]')
      window.setTimeout(() => list?.querySelector<HTMLElement>(`[data-row="${next.id}"]`)?.focus(), 0)
      return
    }
    onKey?.(event, id)
    if (!event.defaultPrevented) listeners?.onKeyDown?.(event)
  }
  return (
    <li
      ref={setNodeRef}
      role="treeitem"
      aria-selected={chosen}
      aria-level={depth + 1}
      className={isDragging ? 'dragged' : ''}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <button
        ref={button}
        type="button"
        data-row={id}
        tabIndex={chosen || first ? 0 : -1}
        className={chosen ? 'chosen' : ''}
        style={{ paddingInlineStart: 8 + Math.max(0, depth + shift) * STEP }}
        onClick={() => choose(id)}
        {...listeners}
        onKeyDown={key}
        aria-describedby={attributes['aria-describedby']}
      >
        {content}
      </button>
    </li>
  )
}

function rowsOf(document: ContentDocument, withRoot: boolean): Row[] {
  const rows: Row[] = []
  const add = (id: NodeId, depth: number) => {
    rows.push({ id, depth })
    for (const child of document.nodes[id]?.children ?? []) add(child, depth + 1)
  }
  if (withRoot) add(document.root, 0)
  else for (const child of nodeAt(document, document.root).children) add(child, 0)
  return rows
}

/** Where a row that was let go over another one lands, and how deep: as deep as it was dragged, as far as types allow. */
function landingIn(document: ContentDocument, rows: readonly Row[], node: NodeId, over: NodeId, deeper: number): Landing | null {
  const from = rows.findIndex(({ id }) => id === node)
  const to = rows.findIndex(({ id }) => id === over)
  const own = rows[from]
  if (own === undefined || to < 0) return null
  const order = rows.filter(({ id }) => id !== node)
  order.splice(to, 0, own)
  const at = order.findIndex(({ id }) => id === node)
  const above = order[at - 1]
  const wanted = own.depth + deeper
  // From the deepest place that is possible here towards the root, the first that takes this type.
  const chain = above === undefined ? [document.root] : [above.id, ...ancestorsOf(document, above.id)]
  const places = chain.flatMap((parent, index): { landing: Landing; depth: number }[] => {
    if (parent === node || !mayHold(document, parent, node)) return []
    const after = index === 0 ? null : (chain[index - 1] ?? null)
    return [{ landing: { parent, after: above === undefined ? null : after }, depth: ancestorsOf(document, parent).length }]
  })
  const offset = rows[0] === undefined ? 0 : ancestorsOf(document, rows[0].id).length
  places.sort((one, other) => Math.abs(one.depth - offset - wanted + 1) - Math.abs(other.depth - offset - wanted + 1))
  return places[0]?.landing ?? null
}
