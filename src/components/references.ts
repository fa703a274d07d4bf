import { nodeAt, type ContentDocument } from '@/core/document'
import type { DocumentId, NodeId } from '@/core/ids'
import { mediaNamedIn } from '@/core/media-names'
import { pageList } from './page-list/fields'
import { readOverrides } from './shared/overrides'
import { componentTypes } from './types'

/** A node that shows another document: a menu's place, a call to action's, a shared component's. */
export interface Reference {
  readonly node: NodeId
  readonly document: DocumentId
}

/** The documents that a document shows by reference, with the nodes that show them. */
export function referencesOf(document: ContentDocument): Reference[] {
  return Object.entries(document.nodes).flatMap(([node, { type, props }]) => {
    const fields = Object.entries(componentTypes.get(type)?.fields ?? {})
    return fields.flatMap(([name, { control }]): Reference[] => {
      const value = props[name]
      if (control === 'overrides' && Array.isArray(value)) return overridden(node as NodeId, value as readonly string[])
      return control === 'document' && typeof value === 'string' && value !== ''
        ? [{ node: node as NodeId, document: value as DocumentId }]
        : []
    })
  })
}

/** The names of all fields that name another document. */
const referring = new Set(
  [...componentTypes.values()].flatMap(({ fields }) =>
    Object.entries(fields).flatMap(([name, { control }]) => (control === 'document' ? [name] : [])),
  ),
)

/** What a place of a shared component shows instead of what the component itself would. */
function overridden(node: NodeId, lines: readonly string[]): Reference[] {
  return readOverrides(lines).flatMap(({ prop, value }) =>
    referring.has(prop) && typeof value === 'string' && value !== '' ? [{ node, document: value as DocumentId }] : [],
  )
}

/** The types of pages that a document lists. */
export function listedTypes(document: ContentDocument): string[] {
  return Object.values(document.nodes).flatMap(({ type, props }) =>
    type === 'pageList' ? [String(props.pageType ?? pageList.fields.pageType.fallback)] : [],
  )
}

/** The pages that a document links to. */
export function linksOf(document: ContentDocument): DocumentId[] {
  const found = Object.values(document.nodes).flatMap(({ type, props }) =>
    Object.entries(componentTypes.get(type)?.fields ?? {}).flatMap(([name, { control }]) => {
      const value = String(props[name] ?? '')
      if (control === 'link') return [...(/^page:([a-z0-9-]+)/.exec(value) ?? [])].slice(1)
      return control === 'rich' ? [...value.matchAll(/href="page:([a-z0-9-]+)/g)].map(([, id]) => id ?? '') : []
    }),
  )
  return [...new Set(found)] as DocumentId[]
}

/** The pictures and films of the media library that a document shows. */
export function mediaOf(document: ContentDocument): string[] {
  const shown = Object.values(document.nodes).flatMap(({ type, props }) =>
    Object.entries(componentTypes.get(type)?.fields ?? {}).flatMap(([name, { control }]) =>
      control === 'picture' || control === 'film' ? [String(props[name] ?? '')] : [],
    ),
  )
  return [...new Set([...shown.filter((name) => name.startsWith('m-')), ...mediaNamedIn(document.nodes)])]
}

export function titleOf(document: ContentDocument): string {
  return String(nodeAt(document, document.root).props.title ?? document.id)
}
