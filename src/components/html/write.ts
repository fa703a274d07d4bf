import { nodeAt, type ContentDocument, type ContentNode, type Props } from '@/core/document'
import type { NodeId } from '@/core/ids'
import { escaped } from '@/core/markup'
import type { SiteView } from '../look'
import { richText } from '../rich-text'
import { asPlaced } from '../shared/overrides'
import { componentTypes, type TypeName } from '../types'
import { knownParts } from './known-parts'

type Writer = (props: Read, children: () => string, site: SiteView, node: ContentNode) => string
type Read = (prop: string) => string

/**
 * A page as plain HTML, by what its parts mean and not by how they look: for reading, moving and keeping elsewhere. Its
 * addresses are of `origin`, wherever the file is read.
 */
export function writeHtml(document: ContentDocument, site: SiteView, origin: string): string {
  const about = reader(nodeAt(document, document.root))
  return [
    '<!doctype html>',
    `<html lang="${escaped(site.identity.language)}">\n<head>\n<meta charset="utf-8">\n<base href="${escaped(origin)}/">\n<title>${escaped(about('title'))}</title>`,
    `<meta name="description" content="${escaped(about('description'))}">\n</head>\n<body>`,
    inside(document, document.root, site),
    '</body>\n</html>\n',
  ].join('\n')
}

function inside(document: ContentDocument, node: NodeId, site: SiteView): string {
  return nodeAt(document, node)
    .children.map((child) => part(document, child, site))
    .filter((html) => html !== '')
    .join('\n')
}

function part(document: ContentDocument, id: NodeId, site: SiteView): string {
  const node = nodeAt(document, id)
  const name = componentTypes.get(node.type)?.type
  return name === undefined ? '' : writers[name](reader(node), () => inside(document, id, site), site, node)
}

function reader({ type, props }: ContentNode): Read {
  const fields = componentTypes.get(type)?.fields ?? {}
  return (prop) => String(props[prop] ?? fields[prop]?.fallback ?? '')
}

const p = (words: string) => (words === '' ? '' : `<p>${escaped(words).replace(/\n/g, '<br>')}</p>`)
const lines = (...parts: string[]) => parts.filter((one) => one !== '').join('\n')
const image = (name: string, alt: string, site: SiteView) =>
  name === '' ? '' : `<img src="${escaped(site.pictureAddress(name))}" alt="${escaped(alt)}">`
const anchor = (words: string, link: string, site: SiteView, className = '') =>
  words === ''
    ? ''
    : `<a${className === '' ? '' : ` class="${className}"`} href="${escaped(site.addressOf(link))}">${escaped(words)}</a>`
const rich = (html: string, site: SiteView) =>
  richText(html).replace(/href="(page:[a-z0-9#-]+)"/g, (_, target: string) => `href="${site.addressOf(target)}"`)
const figure = (img: string, caption: string) =>
  img === '' ? '' : `<figure>${img}${caption === '' ? '' : `<figcaption>${escaped(caption)}</figcaption>`}</figure>`

/** A component without a meaning of its own: what is in it. */
const plain: Writer = (_, children) => children()
/** What only ever is a document’s root, and no part of a page. */
const nothing: Writer = () => ''

/** Each type’s HTML: one that is forgotten does not compile. */
const writers: { readonly [Name in TypeName]: Writer } = {
  menu: nothing,
  menuTree: nothing,
  menuItem: nothing,
  callToActionText: nothing,
  sharedPart: plain,
  page: plain,
  letter: plain,
  style: nothing,
  script: nothing,
  gallery: plain,
  accordion: plain,
  tabs: plain,
  planTable: plain,
  mainPart: (_, children) => `<main>\n${children()}\n</main>`,
  section: (_, children) => `<section>\n${children()}\n</section>`,
  columns: plain,
  column: plain,
  heading: (of, _, site) =>
    `<${of('level')}>${of('link') === '' ? escaped(of('words')) : anchor(of('words'), of('link'), site)}</${of('level')}>`,
  text: (of, _, site) => rich(of('words'), site),
  picture: (of, _, site) => figure(image(of('picture'), of('alt'), site), of('caption')),
  button: (of, _, site) => `<p>${anchor(of('words'), of('link'), site, 'button')}</p>`,
  hero: (of, _, site) =>
    lines(
      `<h1>${escaped(of('title'))}</h1>`,
      p(of('words')),
      of('buttonWords') === '' ? '' : `<p>${anchor(of('buttonWords'), of('link'), site, 'button')}</p>`,
      figure(image(of('picture'), of('alt'), site), ''),
    ),
  banner: (of, _, site) => `<p>${lines(escaped(of('words')), anchor(of('linkWords'), of('link'), site))}</p>`,
  cardList: (_, children) => `<ul>\n${children()}\n</ul>`,
  card: (of, _, site) =>
    `<li>${lines(
      figure(image(of('picture'), '', site), ''),
      `<h3>${of('link') === '' ? escaped(of('title')) : anchor(of('title'), of('link'), site)}</h3>`,
      p(of('words')),
      of('note') === '' ? '' : `<p class="note">${escaped(of('note'))}</p>`,
    )}</li>`,
  galleryPicture: (of, _, site) => figure(image(of('picture'), of('alt'), site), of('caption')),
  video: (of, _, site) =>
    `<figure><video controls src="${escaped(site.filmAddress(of('film')))}" poster="${escaped(of('poster') === '' ? '' : site.pictureAddress(of('poster')))}"></video><figcaption>${escaped(of('caption'))}</figcaption></figure>`,
  accordionItem: (of, _, site) => `<details><summary>${escaped(of('title'))}</summary>${rich(of('words'), site)}</details>`,
  tab: (of, _, site) => `<h3>${escaped(of('title'))}</h3>\n${rich(of('words'), site)}`,
  steps: (_, children) => `<ol>\n${children()}\n</ol>`,
  step: (of) => `<li><strong>${escaped(of('title'))}</strong> ${escaped(of('words'))}</li>`,
  quote: (of) => `<blockquote>${p(of('words'))}<footer>${escaped(of('by'))}</footer></blockquote>`,
  testimonial: (of) => `<blockquote>${p(of('words'))}<footer>${escaped(of('by'))}</footer></blockquote>`,
  plan: (of, _, site) =>
    lines(
      `<h3>${escaped(of('title'))}</h3>`,
      p(`${of('price')} ${of('period')}`.trim()),
      `<ul>${of('includes')
        .split('\n')
        .filter(Boolean)
        .map((item) => `<li>${escaped(item)}</li>`)
        .join('')}</ul>`,
      `<p>${anchor(of('buttonWords'), of('link'), site, 'button')}</p>`,
    ),
  form: (of, children) =>
    `<form>\n${lines(of('title') === '' ? '' : `<h3>${escaped(of('title'))}</h3>`, children(), `<button>${escaped(of('buttonWords'))}</button>`)}\n</form>`,
  formField: (of) => `<p><label>${escaped(of('label'))} ${fieldOf(of)}</label></p>`,
  callToAction: (of, _, site) => {
    const document = site.document(of('callToAction'))
    if (document === null) return ''
    const texts = reader(nodeAt(document, document.root))
    return lines(
      `<aside ${knownParts.callToAction}="${escaped(document.id)}">`,
      `<h2>${escaped(texts('title'))}</h2>`,
      p(texts('words')),
      `<p>${anchor(texts('buttonWords'), texts('link'), site, 'button')}</p>`,
      '</aside>',
    )
  },
  shared: (of, _, site, { props }) => {
    const document = site.document(of('shared'))
    if (document === null) return ''
    const placed = asPlaced(document, Array.isArray(props.overrides) ? props.overrides : [])
    return lines(`<div ${knownParts.shared}="${escaped(document.id)}">`, inside(placed, placed.root, site), '</div>')
  },
  pageList: (of, _, site) =>
    `<ul>${site
      .pagesOfType(of('pageType'))
      .map((page) => `<li>${anchor(String(rootProps(page).title ?? ''), `page:${page.id}`, site)}</li>`)
      .join('')}</ul>`,
}

function fieldOf(of: Read): string {
  const name = `name="${escaped(of('name'))}"${of('required') === 'true' ? ' required' : ''}`
  if (of('kind') === 'textarea') return `<textarea ${name}></textarea>`
  if (of('kind') === 'select')
    return `<select ${name}>${of('choices')
      .split(',')
      .map((choice) => `<option>${escaped(choice.trim())}</option>`)
      .join('')}</select>`
  return `<input type="${escaped(of('kind'))}" ${name}>`
}

function rootProps(document: ContentDocument): Props {
  return nodeAt(document, document.root).props
}
