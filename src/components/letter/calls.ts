import { walk, type ContentDocument } from '@/core/document'
import type { DocumentId } from '@/core/ids'

/** The calls to action in a newsletter, in reading order, each once. */
export function callsIn(letter: ContentDocument): DocumentId[] {
  const found = walk(letter).flatMap((id) => {
    const node = letter.nodes[id]
    const call = node?.type === 'callToAction' ? node.props.callToAction : undefined
    return typeof call === 'string' && call !== '' ? [call as DocumentId] : []
  })
  return [...new Set(found)]
}
