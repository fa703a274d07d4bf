import { parse, type DefaultTreeAdapterTypes as Tree } from 'parse5'
import type { ContentNode, Props } from '@/core/document'
import { FileFault } from '@/core/formats'
import type { NodeId } from '@/core/ids'
import { pictureNames } from '../pictures'
import { plainText, richText } from '../rich-text'

export interface ReadPage {
  readonly title: string
  readonly description: string
  /** Sections in their order, with all that is in them. */
  readonly sections: readonly NodeId[]
  readonly nodes: Readonly<Record<string, ContentNode>>
  /** What could not be taken over, each with its line. */
  readonly notes: readonly string[]
}

interface Surroundings {
  fresh(): NodeId
  /** The page at an address of this site; `null` where there is none. */
  pageAt(address: string): string | null
}

const sectioning = new Set(['section', 'article', 'main', 'header', 'div', 'body', 'aside'])
const textual = new Set(['p', 'ul', 'ol'])
const silent = new Set(['script', 'style', 'link', 'meta', 'noscript', 'template', 'br', 'hr'])

/**
 * The parts of a page written elsewhere: headings, paragraphs, pictures, links, lists, forms, quotations, entries that
 * unfold. Read by the algorithm of the HTML standard (parse5). What has no component here is named with its line.
 *
 * @throws {FileFault} where nothing of it can be taken
 */
export function readHtml(html: string, { fresh, pageAt }: Surroundings): ReadPage {
  refuseTooMuch(html)
  const document = parse(html, { sourceCodeLocationInfo: true })
  refuseTooDeep(document)
  const nodes: Record<string, ContentNode> = {}
  const sections: NodeId[] = []
  const notes: string[] = []
  let open: NodeId[] = []

  const put = (type: string, props: Props, children: readonly NodeId[] = []): NodeId => {
    const id = fresh()
    nodes[id] = { type, props, children }
    return id
  }
  const add = (type: string, props: Props, children: readonly NodeId[] = []) => void open.push(put(type, props, children))
  const close = () => {
    if (open.length > 0) sections.push(put('section', {}, open))
    open = []
  }
  const note = (element: Tree.Element, words: string) =>
    void notes.push(`Line ${element.sourceCodeLocation?.startLine ?? '?'}: ${words}`)
  const linkFor = (element: Tree.Element): string => {
    const href = attribute(element, 'href')
    const page = pageAt(href)
    if (page !== null) return `page:${page}`
    if (/^(https?:\/\/|mailto:|tel:|#[\w-]*$)/.test(href)) return href
    if (href !== '') note(element, `the link to “${href}” leads to no page of this site and was left open.`)
    return ''
  }
  const addText = (element: Tree.Element) => {
    for (const link of elements(element, 'a')) setAttribute(link, 'href', linkFor(link))
    const words = richText(outerHtml(element))
    const last = nodes[open.at(-1) ?? '']
    if (plainText(words) === '') return
    if (last?.type === 'text') nodes[open.at(-1) ?? ''] = { ...last, props: { words: `${String(last.props.words)}${words}` } }
    else add('text', { words })
  }
  const addPicture = (element: Tree.Element, caption: string) => {
    const source = attribute(element, 'src')
    const name = /\/media\/([a-z0-9-]+)(\.svg)?$/.exec(source)?.[1] ?? ''
    const known = /^m-[0-9a-f]{32}$/.test(name) || (pictureNames as readonly string[]).includes(name)
    if (!known) note(element, `the picture “${source}” is not in the media library. Bring it there, then choose it.`)
    add('picture', { picture: known ? name : '', alt: attribute(element, 'alt'), ...(caption === '' ? {} : { caption }) })
  }
  const addForm = (element: Tree.Element) => {
    const fields = ['input', 'select', 'textarea']
      .flatMap((tag) => elements(element, tag))
      .filter((one) => !['submit', 'hidden', 'button'].includes(attribute(one, 'type')))
    const inOrder = fields.sort(
      (one, other) => (one.sourceCodeLocation?.startOffset ?? 0) - (other.sourceCodeLocation?.startOffset ?? 0),
    )
    const title = headings.map((tag) => elements(element, tag)[0]).find((one) => one !== undefined)
    const submit = elements(element, 'button')[0]
    add(
      'form',
      {
        ...(title === undefined ? {} : { title: textOf(title) }),
        ...(submit === undefined ? {} : { buttonWords: textOf(submit) }),
      },
      inOrder.map((one) => put('formField', fieldProps(element, one))),
    )
    note(element, 'the form was taken over; say which page is shown after it.')
  }

  const take = (element: Tree.Element): void => {
    const tag = element.tagName
    const [only] = childElements(element)
    if (headings.includes(tag))
      return add('heading', {
        words: textOf(element),
        level: tag === 'h1' || tag === 'h2' ? tag : 'h3',
        size: tag === 'h1' ? 'grand' : tag === 'h2' ? 'large' : 'medium',
      })
    if (tag === 'p' && only?.tagName === 'a' && textOf(only) === textOf(element) && attribute(only, 'class').includes('button'))
      return add('button', { words: textOf(only), link: linkFor(only) })
    if (tag === 'p' && only?.tagName === 'img' && textOf(element) === '') return addPicture(only, '')
    if (textual.has(tag)) return addText(element)
    if (tag === 'img') return addPicture(element, '')
    if (tag === 'figure') {
      const image = elements(element, 'img')[0]
      const caption = elements(element, 'figcaption')[0]
      if (image !== undefined) return addPicture(image, caption === undefined ? '' : textOf(caption))
      return note(element, 'the figure has no picture that could be taken over.')
    }
    if (tag === 'a') return add('button', { words: textOf(element), link: linkFor(element) })
    if (tag === 'blockquote') {
      const by = elements(element, 'footer')[0] ?? elements(element, 'cite')[0]
      const said = by === undefined ? '' : textOf(by)
      return add('quote', { words: textOf(element).replace(said, '').trim(), by: said })
    }
    if (tag === 'details') {
      const summary = elements(element, 'summary')[0]
      const title = summary === undefined ? '' : textOf(summary)
      const words = childElements(element)
        .filter((child) => child !== summary)
        .map(outerHtml)
        .join('')
      const entry = put('accordionItem', { title, words: richText(words) })
      const last = nodes[open.at(-1) ?? '']
      if (last?.type === 'accordion') nodes[open.at(-1) ?? ''] = { ...last, children: [...last.children, entry] }
      else add('accordion', {}, [entry])
      return
    }
    if (tag === 'form') return addForm(element)
    if (tag === 'nav') return note(element, 'the navigation was left out: menus are documents of their own (OPML).')
    if (silent.has(tag)) return tag === 'script' || tag === 'style' ? note(element, `<${tag}> was left out.`) : undefined
    if (!sectioning.has(tag)) return note(element, `<${tag}> has no component here and was left out.`)
    const begins = tag === 'section' || tag === 'article'
    if (begins) close()
    for (const child of element.childNodes) {
      if ('tagName' in child) take(child)
      else if ('value' in child && child.value.trim() !== '')
        add('text', { words: richText(`<p>${escaped(child.value.trim())}</p>`) })
    }
    if (begins) close()
  }

  const root = document.childNodes.find((child): child is Tree.Element => 'tagName' in child && child.tagName === 'html')
  const body = root === undefined ? undefined : childElements(root).find(({ tagName }) => tagName === 'body')
  const head = root === undefined ? undefined : childElements(root).find(({ tagName }) => tagName === 'head')
  if (body !== undefined) take(body)
  close()
  if (sections.length === 0) throw new FileFault('There is nothing in this file that could become a part of a page.', 1)
  const title = head === undefined ? undefined : elements(head, 'title')[0]
  const description =
    head === undefined ? undefined : elements(head, 'meta').find((meta) => attribute(meta, 'name') === 'description')
  return {
    title: title === undefined ? '' : textOf(title),
    description: description === undefined ? '' : attribute(description, 'content'),
    sections,
    nodes,
    notes,
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

const headings = ['h1', 'h2', 'h3', 'h4', 'h5', 'h6']

function fieldProps(form: Tree.Element, field: Tree.Element): Props {
  const id = attribute(field, 'id')
  const labels = elements(form, 'label')
  const label =
    labels.find((one) => attribute(one, 'for') === id && id !== '') ??
    labels.find((one) => elements(one, field.tagName).includes(field))
  const type = attribute(field, 'type')
  const kind = field.tagName === 'input' ? (['email', 'tel', 'date'].includes(type) ? type : 'text') : field.tagName
  const choices = elements(field, 'option').map(textOf).filter(Boolean)
  return {
    label: (label === undefined ? '' : textOf(label)) || attribute(field, 'placeholder') || attribute(field, 'name') || 'Field',
    name: attribute(field, 'name') || 'field',
    kind,
    required: field.attrs.some(({ name }) => name === 'required'),
    ...(choices.length === 0 ? {} : { choices: choices.join(', ') }),
  }
}

function childElements(element: Tree.Element): Tree.Element[] {
  return element.childNodes.filter((child): child is Tree.Element => 'tagName' in child)
}

function elements(element: Tree.Element, tag: string): Tree.Element[] {
  return childElements(element).flatMap((child) => [...(child.tagName === tag ? [child] : []), ...elements(child, tag)])
}

function attribute(element: Tree.Element, name: string): string {
  return element.attrs.find((one) => one.name === name)?.value ?? ''
}

function setAttribute(element: Tree.Element, name: string, value: string): void {
  const found = element.attrs.find((one) => one.name === name)
  if (found !== undefined) found.value = value
}

function textOf(element: Tree.Element): string {
  const words = (node: Tree.ChildNode): string =>
    'value' in node
      ? node.value
      : 'childNodes' in node
        ? node.tagName === 'option' && element.tagName !== 'option'
          ? ''
          : node.childNodes.map(words).join('')
        : ''
  return element.childNodes.map(words).join('').replace(/\s+/g, ' ').trim()
}

/** Enough of a serialiser for what the allow-list of rich text lets through anyway. */
function outerHtml(element: Tree.Element): string {
  const inner = element.childNodes
    .map((child) => ('tagName' in child ? outerHtml(child) : 'value' in child ? escaped(child.value) : ''))
    .join('')
  const href = attribute(element, 'href')
  return `<${element.tagName}${href === '' ? '' : ` href="${escaped(href)}"`}>${inner}</${element.tagName}>`
}

function escaped(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign] ?? sign)
}
