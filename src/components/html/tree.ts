import type { DefaultTreeAdapterTypes as Tree } from 'parse5'
import { escaped } from '@/core/markup'

export type Element = Tree.Element
export type Child = Tree.ChildNode

export const headingTags = ['h1', 'h2', 'h3', 'h4', 'h5', 'h6']

export function childElements(element: Element): Element[] {
  return element.childNodes.filter(isElement)
}

export function isElement(node: Tree.ChildNode): node is Element {
  return 'tagName' in node
}

/** All elements inside, in the order of the document. */
export function everyElement(element: Element): Element[] {
  return childElements(element).flatMap((child) => [child, ...everyElement(child)])
}

export function elements(element: Element, ...tags: readonly string[]): Element[] {
  return everyElement(element).filter(({ tagName }) => tags.includes(tagName))
}

export function firstOf(element: Element, ...tags: readonly string[]): Element | undefined {
  return elements(element, ...tags)[0]
}

export function attribute(element: Element, name: string): string {
  return element.attrs.find((one) => one.name === name)?.value ?? ''
}

export function hasClass(element: Element, name: string): boolean {
  return attribute(element, 'class').split(/\s+/).includes(name)
}

/** The element as it is without some that are in it, at whatever depth. */
export function without(element: Element, ...left: readonly Element[]): Element {
  return pruned(element, new Set(left))
}

function pruned(element: Element, left: ReadonlySet<Element>): Element {
  const childNodes = element.childNodes
    .filter((child) => !isElement(child) || !left.has(child))
    .map((child) => (isElement(child) ? pruned(child, left) : child))
  return { ...element, childNodes }
}

/** What is never read as words. */
const wordless = new Set(['script', 'style', 'template', 'noscript', 'select', 'textarea', 'svg', 'iframe', 'object'])

/** Its words, with white space as it is shown. */
export function textOf(node: Child): string {
  const words = (one: Child): string =>
    'value' in one
      ? one.value
      : isElement(one)
        ? one.tagName === 'br'
          ? ' '
          : wordless.has(one.tagName)
            ? ''
            : one.childNodes.map(words).join('')
        : ''
  const whole = isElement(node) ? node.childNodes.map(words).join('') : words(node)
  return whole.replace(/\s+/g, ' ').trim()
}

/** Its own words with the lines that its paragraphs and breaks make. */
export function linesOf(element: Element): string {
  const words = (one: Child): string => {
    if ('value' in one) return one.value.replace(/\s+/g, ' ')
    if (!isElement(one) || wordless.has(one.tagName)) return ''
    if (one.tagName === 'br') return '\n'
    const inner = one.childNodes.map(words).join('')
    return ['p', 'li', 'div'].includes(one.tagName) ? `${inner.trim()}\n` : inner
  }
  const whole = element.childNodes.map(words).join('')
  return whole.replace(/ *\n */g, '\n').trim()
}

/** Enough of a serialiser for what the allow-list of rich text lets through anyway. */
export function outerHtml(node: Child, linkOf: (anchor: Element) => string): string {
  if ('value' in node) return escaped(node.value)
  if (!isElement(node) || wordless.has(node.tagName)) return ''
  const inner = node.childNodes.map((child) => outerHtml(child, linkOf)).join('')
  if (node.tagName === 'a') {
    const link = linkOf(node)
    return link === '' ? inner : `<a href="${escaped(link)}">${inner}</a>`
  }
  return node.tagName === 'br' ? '<br>' : `<${node.tagName}>${inner}</${node.tagName}>`
}
