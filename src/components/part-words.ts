import type { ContentDocument } from '@/core/document'
import type { TestedPart } from '@/core/experiment'
import type { DocumentId, NodeId } from '@/core/ids'
import { shortened } from '@/core/text'
import { titleOf } from './references'
import { componentTypes, excerptOf } from './types'

/** A part by its kind and its first words. */
export function partWords(home: ContentDocument, node: NodeId): string {
  const found = home.nodes[node]
  if (found === undefined) return 'a part that is gone'
  if (node === home.root) return home.kind === 'page' ? `The page ${titleOf(home)}` : titleOf(home)
  const words = excerptOf(found)
  return `The ${componentTypes.get(found.type)?.label ?? 'component'}${words === '' ? '' : ` “${shortened(words, 40)}”`}`
}

/** What a test is a test of, as one word for all of its kind: “heading”, “menu”, “combination of heading and button”. */
export function testedWords(parts: readonly TestedPart[], published: ReadonlyMap<DocumentId, ContentDocument>): string {
  const kinds = parts.flatMap(({ document, node }) => {
    const home = published.get(document)
    const type = home?.nodes[node]?.type
    if (home === undefined || type === undefined) return []
    const whole = node === home.root && home.kind === 'page'
    return [whole ? 'whole page' : (componentTypes.get(type)?.label ?? 'component')]
  })
  return kinds.length > 1 ? `combination of ${[...new Set(kinds)].join(' and ')}` : (kinds[0] ?? '')
}
