import { apply, nodeAt, walk, type ContentDocument, type Edit } from '@/core/document'
import { isPressable } from './types'

/**
 * The edits of a variant, with those that put a marker back which the original carries and the variant lost: on the same
 * component where it is still there, else on the first thing that can be pressed and came with the variant.
 *
 * @returns `null` where nothing in the variant could carry it
 */
export function withMarker(home: ContentDocument, edits: readonly Edit[], marker: string): Edit[] | null {
  const { document: shown } = apply(home, edits)
  const carriers = walk(home).filter((id) => home.nodes[id]?.props.marker === marker)
  const stayed = carriers.filter((id) => shown.nodes[id] !== undefined)
  const came = walk(shown).filter((id) => home.nodes[id] === undefined && isPressable(nodeAt(shown, id)))
  const targets = stayed.length > 0 ? stayed : came.slice(0, 1)
  if (targets.length === 0) return null
  return [...edits, ...targets.map((node): Edit => ({ kind: 'set', node, prop: 'marker', value: marker }))]
}
