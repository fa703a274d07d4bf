import type { NodeId } from '../ids'
import type { ContentDocument, PropValue } from './document'
import type { Edit } from './edit'

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

/** An edit as a sentence without a subject: “changes the words of heading “Play it first” to “…””. */
export function describe(document: ContentDocument, edit: Edit, words: Vocabulary): string {
  switch (edit.kind) {
    case 'set': {
      const type = document.nodes[edit.node]?.type
      if (type === undefined) return `changes a component that is no longer there`
      return describeSet(edit, type, named(document, edit.node, words), words)
    }
    case 'insert':
      return `adds a ${words.typeName(edit.tree.nodes[edit.tree.root]?.type ?? 'component')} to ${named(document, edit.parent, words)}`
    case 'remove':
      return `hides ${named(document, edit.node, words)}`
    case 'move':
      return `moves ${named(document, edit.node, words)} within ${named(document, edit.parent, words)}`
    case 'replace':
      return `turns ${named(document, edit.node, words)} into a ${words.typeName(edit.type)}`
    default:
      return edit satisfies never
  }
}

function describeSet({ prop, value }: Extract<Edit, { kind: 'set' }>, type: string, whose: string, words: Vocabulary): string {
  const field = words.fieldName(type, prop)
  const said = value === undefined ? '' : short(words.valueName(type, prop, value))
  switch (words.fieldKind(type, prop)) {
    case 'lead':
      return said === '' ? `takes away where ${whose} leads` : `changes where ${whose} leads, to “${said}”`
    case 'switch':
      return `switches “${field}” ${value === true ? 'on' : 'off'} for ${whose}`
    case 'value':
      return value === undefined ? `clears the ${field} of ${whose}` : `changes the ${field} of ${whose} to “${said}”`
  }
}

/** The kinds of difference in a few words, for a place with little room: “words · colour”. */
export function inShort(document: ContentDocument, edits: readonly Edit[], words: Vocabulary): string {
  const kinds = edits.map((edit) => {
    if (edit.kind === 'set') {
      const type = document.nodes[edit.node]?.type ?? ''
      return words.fieldKind(type, edit.prop) === 'lead' ? 'where it leads' : words.fieldName(type, edit.prop)
    }
    return { insert: 'added part', remove: 'hidden part', move: 'place', replace: 'kind' }[edit.kind]
  })
  return [...new Set(kinds)].join(' · ')
}

function named(document: ContentDocument, node: NodeId, words: Vocabulary): string {
  const type = document.nodes[node]?.type
  if (type === undefined) return 'a component that is no longer there'
  const excerpt = short(words.excerpt(document, node))
  const name = words.typeName(type)
  return excerpt === '' ? `the ${name}` : `the ${name} “${excerpt}”`
}

function short(text: string): string {
  return text.length <= 60 ? text : `${text.slice(0, 57).trimEnd()}…`
}
