import type { ContentDocument, ContentNode, DocumentKind, Props } from '@/core/document'
import type { DocumentId, NodeId } from '@/core/ids'

/** A component and what is in it, before it has a place and ids. */
export interface Piece {
  readonly type: string
  readonly props: Props
  readonly inside: readonly Piece[]
  /** Part of the node's id after the page's name; a number where nobody needs to know it. */
  readonly name?: string
}

export const piece = (type: string, props: Props = {}, inside: readonly Piece[] = [], name?: string): Piece => ({
  type,
  props,
  inside,
  name,
})

/** A document from pieces; every node's id begins with the document's, so ids differ over the whole site. */
export function documentOf(id: string, kind: DocumentKind, root: Piece): ContentDocument {
  const nodes: Record<string, ContentNode> = {}
  let count = 0
  const add = (part: Piece): NodeId => {
    const node = `${id}-${part.name ?? `${part.type.toLowerCase()}-${++count}`}` as NodeId
    if (nodes[node] !== undefined) throw new RangeError(`documentOf: two components are named “${node}”`)
    nodes[node] = { type: part.type, props: part.props, children: [] }
    const children = part.inside.map(add)
    nodes[node] = { type: part.type, props: part.props, children }
    return node
  }
  return { id: id as DocumentId, kind, root: add({ ...root, name: 'root' }), nodes }
}

export interface PageText {
  readonly id: string
  readonly path: string
  readonly title: string
  readonly description: string
  readonly pageType?: string
  /** What the page says of itself where it is listed. */
  readonly about?: Props
  readonly body: readonly Piece[]
}

export function pageOf({ id, path, title, description, pageType = 'Page', about = {}, body }: PageText): ContentDocument {
  const head = piece('menu', { menu: 'main-menu', place: 'header' }, [], 'head')
  const foot = piece('menu', { menu: 'foot-menu', place: 'footer' }, [], 'foot')
  return documentOf(
    id,
    'page',
    piece('page', { title, description, path, pageType, ...about }, [head, piece('mainPart', {}, body, 'main'), foot]),
  )
}

export const section = (ground: string, inside: readonly Piece[], more: Props = {}, name?: string) =>
  piece('section', { ground, ...more }, inside, name)
export const heading = (words: string, level: 'h1' | 'h2' | 'h3' = 'h2', more: Props = {}, name?: string) =>
  piece('heading', { words, level, size: level === 'h1' ? 'grand' : level === 'h2' ? 'large' : 'medium', ...more }, [], name)
export const text = (words: string, more: Props = {}, name?: string) =>
  piece('text', { words: words.startsWith('<') ? words : `<p>${words}</p>`, ...more }, [], name)
export const lead = (words: string, more: Props = {}) => text(words, { size: 'lead', ...more })
export const picture = (name: string, alt: string, shape = 'wide') => piece('picture', { picture: name, alt, shape })
export const button = (words: string, link: string, more: Props = {}, name?: string) =>
  piece('button', { words, link, ...more }, [], name)
export const columns = (arrangement: string, sides: readonly (readonly Piece[])[]) =>
  piece(
    'columns',
    { arrangement },
    sides.map((inside) => piece('column', { align: 'centre' }, inside)),
  )
export const card = (title: string, words: string, more: Props = {}) => piece('card', { title, words, ...more })
export const cards = (arrangement: string, inside: readonly Piece[], name?: string) =>
  piece('cardList', { arrangement }, inside, name)
export const quote = (words: string, by: string, arrangement = 'large') => piece('quote', { words, by, arrangement })
export const call = (id: string, arrangement = 'banner', name?: string) =>
  piece('callToAction', { callToAction: id, arrangement }, [], name)
export const field = (label: string, name: string, kind = 'text', more: Props = {}) =>
  piece('formField', { label, name, kind, ...more })
export const form = (
  title: string,
  buttonWords: string,
  next: string,
  fields: readonly Piece[],
  more: Props = {},
  name?: string,
) => piece('form', { title, buttonWords, next, ...more }, fields, name)
