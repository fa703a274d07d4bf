import type { ReactNode } from 'react'
import type { ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { propsOf } from './component-type'
import type { SiteView } from './look'
import { looks } from './looks'
import { componentTypes } from './types'

export interface PartProps {
  readonly document: ContentDocument
  readonly node: NodeId
  readonly site: SiteView
  /** The `data-e` of a node, if it is a varying part. */
  readonly exposure?: (node: NodeId) => string | undefined
  /** Stands in for a part below this one, where the compiler cuts the page. */
  readonly standIn?: (node: NodeId) => ReactNode | undefined
}

/** A component with all that is in it. An unknown type shows nothing rather than failing the page. */
export function Part({ document, node: id, site, exposure, standIn }: PartProps): ReactNode {
  const node = document.nodes[id]
  const type = componentTypes.get(node?.type ?? '')
  const shape = looks.get(node?.type ?? '')
  if (node === undefined || type === undefined || shape === undefined) return null
  const shownAs = exposure?.(id)
  const mark = shownAs === undefined ? { 'data-n': id } : { 'data-n': id, 'data-e': shownAs }
  const children = node.children.map(
    (child) => standIn?.(child) ?? <Part key={child} {...{ document, site, exposure, standIn }} node={child} />,
  )
  return shape({ props: propsOf(type, node), mark, node: id, document: document.id, site, children })
}
