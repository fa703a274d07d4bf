'use client'

import type { VersionView } from '@/contract/contract'
import { reachOf, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { componentTypes, excerptOf } from '@/components/types'
import type { Landing } from '../desk/landing'
import { TreeList } from '../desk/tree-list'

interface OutlineProps {
  readonly document: ContentDocument
  readonly versions: readonly VersionView[]
  /** The version on the page: what it touches is marked. */
  readonly version: VersionView | undefined
  readonly selected: NodeId | null
  readonly select: (node: NodeId) => void
  readonly move: ((node: NodeId, landing: Landing) => void) | null
}

/** The page's structure, with what varies at a glance. */
export function Outline({ document, versions, version, selected, select, move }: OutlineProps) {
  const touched = new Set(version === undefined ? [] : reachOf(document, version.edits))
  return (
    <nav className="outline" aria-label="Outline of the page">
      <TreeList
        document={document}
        label="Components"
        withRoot
        selected={selected}
        select={select}
        move={move}
        row={(id) => {
          const node = document.nodes[id]
          const mine = versions.filter((one) => one.node === id)
          const chance = mine.filter(({ manner }) => manner === 'chance').length
          const rules = mine.length - chance
          return (
            <>
              <span>
                {id === document.root && document.kind === 'page'
                  ? 'whole page'
                  : (componentTypes.get(node?.type ?? '')?.label ?? node?.type)}
              </span>{' '}
              <em>{node === undefined ? '' : excerptOf(node)}</em>
              {touched.has(id) ? <b title={`different in ${version?.name ?? ''}`}>≠</b> : null}
              {chance > 0 ? <b title={`${chance} by chance`}>◇ {chance}</b> : null}
              {rules > 0 ? <b title={`${rules} by rule`}>▸ {rules}</b> : null}
            </>
          )
        }}
      />
    </nav>
  )
}
