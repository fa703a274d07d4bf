import { ancestorsOf, type ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { propsOf } from '../component-type'
import { section } from './fields'

/** The ground a part stands on: that of the section around it. */
export function groundOf(document: ContentDocument, node: NodeId): string {
  for (const id of [node, ...ancestorsOf(document, node)]) {
    const found = document.nodes[id]
    if (found?.type === section.type) return propsOf(section, found).ground
  }
  return 'plain'
}
