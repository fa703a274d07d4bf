import { parse, type DefaultTreeAdapterTypes as Tree } from 'parse5'
import type { ContentNode } from '@/core/document'
import { FileFault } from '@/core/formats'
import type { NodeId } from '@/core/ids'
import { shortened } from '@/core/text'
import { readUrl } from '@/core/url'
import { takeBody } from './body'
import { building, type Around } from './building'
import { attribute, childElements, elements, firstOf, isElement, textOf } from './tree'

export interface ReadPage {
  readonly title: string
  readonly description: string
  /** Sections in their order, with all that is in them. */
  readonly sections: readonly NodeId[]
  readonly nodes: Readonly<Record<string, ContentNode>>
  /** What could not be taken over, each with its line. */
  readonly notes: readonly string[]
}

/**
 * The parts of a page written elsewhere: headings, paragraphs, pictures, links, lists, forms, quotations, entries that
 * unfold. Read by the algorithm of the HTML standard (parse5). What has no component here is named with its line, and so
 * is what is dropped: scripts, handlers, passages, links in what is kept as words alone.
 *
 * @throws {FileFault} where nothing of it can be taken
 */
export function readHtml(html: string, { fresh, ...around }: Around & { fresh(): NodeId }): ReadPage {
  refuseTooMuch(html)
  const document = parse(html, { sourceCodeLocationInfo: true })
  refuseTooDeep(document)
  const root = document.childNodes.find((child) => isElement(child))
  const [head, body] = ['head', 'body'].map((tag) =>
    root === undefined ? undefined : childElements(root).find(({ tagName }) => tagName === tag),
  )
  const written = building(fresh)
  const stated = head === undefined ? undefined : firstOf(head, 'base')
  const base = readUrl(stated === undefined ? '' : attribute(stated, 'href'), `${around.origin}/`)?.href ?? `${around.origin}/`
  if (body !== undefined) takeBody(body, { ...written, around, base })
  if (written.sections.length === 0) throw new FileFault('There is nothing in this file that could become a part of a page.', 1)
  const title = head === undefined ? undefined : firstOf(head, 'title')
  const description = head === undefined ? [] : elements(head, 'meta').filter((meta) => attribute(meta, 'name') === 'description')
  return {
    title: title === undefined ? '' : shortened(textOf(title), 300),
    description: shortened(description.map((meta) => attribute(meta, 'content'))[0] ?? '', 2000),
    sections: written.sections,
    nodes: written.nodes,
    notes: written.notes(),
  }
}

/** More than any page has, and little enough to be read in a moment. */
const MOST_TAGS = 60_000
const DEEPEST = 200

function refuseTooMuch(html: string): void {
  let tags = 0
  for (let at = html.indexOf('<'); at >= 0; at = html.indexOf('<', at + 1)) tags++
  if (tags > MOST_TAGS)
    throw new FileFault(
      `This file has more than ${MOST_TAGS.toLocaleString('en')} tags, which is more than a page can have. Divide it.`,
    )
}

function refuseTooDeep(document: Tree.Document): void {
  const waiting: { node: Tree.Node; depth: number }[] = [{ node: document, depth: 0 }]
  for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
    const { node, depth } = next
    if (depth > DEEPEST) throw new FileFault(`Its elements stand more than ${DEEPEST} deep in each other. Flatten it first.`)
    if ('childNodes' in node) for (const child of node.childNodes) waiting.push({ node: child, depth: depth + 1 })
  }
}
