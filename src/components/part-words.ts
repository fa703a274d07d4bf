import type { ContentDocument } from '@/core/document'
import type { NodeId } from '@/core/ids'
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
