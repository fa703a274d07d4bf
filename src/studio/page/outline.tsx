'use client'

import { useEffect, useRef } from 'react'
import type { VersionView } from '@/contract/contract'
import type { ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { componentTypes, excerptOf } from '@/components/types'

interface OutlineProps {
  readonly document: ContentDocument
  readonly versions: readonly VersionView[]
  readonly selected: NodeId | null
  readonly select: (node: NodeId) => void
}

/** The page's structure, with what varies at a glance. */
export function Outline(props: OutlineProps) {
  return (
    <nav className="outline" aria-label="Outline of the page">
      <ul role="tree" aria-label="Components">
        <Branch {...props} node={props.document.root} depth={0} />
      </ul>
    </nav>
  )
}

function Branch({ node: id, depth, ...props }: OutlineProps & { node: NodeId; depth: number }) {
  const { document, versions, selected, select } = props
  const row = useRef<HTMLButtonElement>(null)
  const chosen = selected === id
  useEffect(() => {
    if (chosen) row.current?.scrollIntoView({ block: 'nearest' })
  }, [chosen])
  const node = document.nodes[id]
  if (node === undefined) return null
  const mine = versions.filter((version) => version.node === id)
  const chance = mine.filter(({ manner }) => manner === 'chance').length
  const rules = mine.length - chance
  return (
    <li role="treeitem" aria-selected={chosen} aria-expanded={node.children.length > 0 ? true : undefined}>
      <button
        ref={row}
        type="button"
        tabIndex={chosen || (selected === null && depth === 0) ? 0 : -1}
        className={chosen ? 'chosen' : ''}
        style={{ paddingInlineStart: `${0.5 + depth * 0.8}rem` }}
        onClick={() => select(id)}
      >
        <span>{componentTypes.get(node.type)?.label ?? node.type}</span> <em>{excerptOf(node)}</em>
        {chance > 0 ? <b title={`${chance} by chance`}>◇ {chance}</b> : null}
        {rules > 0 ? <b title={`${rules} by rule`}>▸ {rules}</b> : null}
      </button>
      {node.children.length === 0 ? null : (
        <ul role="group">
          {node.children.map((child) => (
            <Branch key={child} {...props} node={child} depth={depth + 1} />
          ))}
        </ul>
      )}
    </li>
  )
}
