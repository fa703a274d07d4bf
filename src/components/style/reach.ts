import { nodeAt, type ContentDocument } from '@/core/document'
import { propsOf } from '../component-type'
import { page as pageType } from '../page/fields'
import { style } from './fields'

/** Whether a style is for this page: by its type, its id, or its address. Several patterns stand on lines of their own. */
export function isFor(document: ContentDocument, page: ContentDocument): boolean {
  const { reach, pattern } = propsOf(style, nodeAt(document, document.root))
  if (page.kind !== 'page') return false
  const about = propsOf(pageType, nodeAt(page, page.root))
  const patterns = pattern.split('\n').flatMap((line) => (line.trim() === '' ? [] : [line.trim()]))
  switch (reach) {
    case 'every':
      return true
    case 'type':
      return patterns.includes(about.pageType)
    case 'chosen':
      return patterns.includes(page.id)
    case 'is':
      return patterns.includes(about.path)
    case 'starts':
      return patterns.some((one) => about.path.startsWith(one))
    case 'contains':
      return patterns.some((one) => about.path.includes(one))
    default:
      return reach satisfies never
  }
}

/** By component type, the styles that are for it on this page: what goes into `data-s`. */
export function stylesByPart(styles: readonly ContentDocument[]): (type: string) => string | undefined {
  const byPart = new Map<string, string[]>()
  for (const document of styles) {
    const { part } = propsOf(style, nodeAt(document, document.root))
    byPart.set(part, [...(byPart.get(part) ?? []), document.id])
  }
  return (type) => byPart.get(type)?.join(' ')
}

export function rulesOf(document: ContentDocument): string {
  return propsOf(style, nodeAt(document, document.root)).css
}
