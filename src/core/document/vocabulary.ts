import type { NodeId } from '../ids'
import type { ContentDocument, PropValue } from './document'

/** The words of the component types, passed in so that the core does not know them. */
export interface Vocabulary {
  /** “heading” */
  typeName(type: string): string
  /** “words” */
  fieldName(type: string, prop: string): string
  /** How a change of it is said: of where it leads, of something switched on or off, or of a value. */
  fieldKind(type: string, prop: string): 'lead' | 'switch' | 'value'
  /** What a person would call this value: a page's title for its id, a style's label for its code. */
  valueName(type: string, prop: string, value: PropValue): string
  /** A few words that tell this node from its neighbours: its own text, or nothing. */
  excerpt(document: ContentDocument, node: NodeId): string
}

/** “the heading “Play it first””. */
export function named(document: ContentDocument, node: NodeId, words: Vocabulary): string {
  const type = document.nodes[node]?.type
  if (type === undefined) return 'a component that is no longer there'
  const excerpt = short(words.excerpt(document, node))
  const name = words.typeName(type)
  return excerpt === '' ? `the ${name}` : `the ${name} “${excerpt}”`
}

export function short(text: string): string {
  return text.length <= 60 ? text : `${text.slice(0, 57).trimEnd()}…`
}
