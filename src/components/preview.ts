import { apply, nodeAt, type ContentDocument, type Edit, type Props } from '@/core/document'
import type { DocumentId, NodeId } from '@/core/ids'
import { starterOf } from './starters'

/** Something that can be drawn by itself: a document, the node to begin with, and the documents changed around it. */
export interface Preview {
  readonly document: ContentDocument
  readonly node: NodeId
  readonly changed: readonly ContentDocument[]
  /** Whether it brings its own ground and width: a whole page, a header. */
  readonly whole: boolean
}

const listing = ['listTitle', 'teaser', 'picture']

/**
 * A part as it looks with these edits, alone: a menu in the header, a call to action as a banner, an article as it is
 * listed, a style on a part it is for.
 */
export function previewOf(document: ContentDocument, part: NodeId, edits: readonly Edit[]): Preview {
  const changed = apply(document, edits).document
  const about = (type: string, props: Props): Preview => ({ ...alone(type, props), changed: [changed] })
  switch (document.kind) {
    case 'menu':
      return { ...about('menu', { menu: document.id, place: 'header' }), whole: true }
    case 'callToAction':
      return about('callToAction', { callToAction: document.id })
    case 'style':
      return { ...sampleOf(changed), changed: [changed] }
    default: {
      const only = edits.length > 0 && edits.every((edit) => edit.kind === 'set' && listing.includes(edit.prop))
      if (document.kind === 'page' && part === document.root && only) return { ...about('card', cardOf(changed)), changed: [] }
      const node = changed.nodes[part] === undefined ? changed.root : part
      return { document: changed, node, changed: [], whole: node === changed.root && document.kind !== 'shared' }
    }
  }
}

function alone(type: string, props: Props): Preview {
  const node = 'alone' as NodeId
  const document: ContentDocument = {
    id: 'alone' as DocumentId,
    kind: 'page',
    root: node,
    nodes: { [node]: { type, props, children: [] } },
  }
  return { document, node, changed: [], whole: false }
}

/** A page as lists show it: by the title and teaser it says of itself. */
function cardOf(page: ContentDocument): Props {
  const { title = '', listTitle = '', teaser = '', picture = '' } = nodeAt(page, page.root).props
  return { title: listTitle === '' ? title : listTitle, words: teaser, picture, link: `page:${page.id}` }
}

/** A part of the type that a style is for, as a new one would be. */
function sampleOf(style: ContentDocument): Preview {
  const { part } = nodeAt(style, style.root).props
  let count = 0
  const { root, nodes } = starterOf(
    part === 'page' || part === undefined ? 'section' : String(part),
    () => `sample-${++count}` as NodeId,
  )
  return { document: { id: 'alone' as DocumentId, kind: 'page', root, nodes }, node: root, changed: [], whole: false }
}
