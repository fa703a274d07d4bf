import type { Props } from '@/core/document'
import { linkFrom } from '@/core/formats'
import { own } from '@/core/own'
import { shortened } from '@/core/text'
import { filmNames, pictureNames } from '../pictures'
import { richText } from '../rich-text'
import { isMedia } from '../site-view'
import type { Taking } from './building'
import { takeForm } from './form'
import { knownParts } from './known-parts'
import {
  attribute,
  childElements,
  elements,
  everyElement,
  firstOf,
  hasClass,
  headingTags,
  isElement,
  linesOf,
  outerHtml,
  textOf,
  without,
  type Child,
  type Element,
} from './tree'

type Taker = (element: Element, taking: Taking) => void

/** A link as it is kept; what leads nowhere is left open, and said. */
export function linkOf(element: Element, { around, base, note }: Taking): string {
  const href = attribute(element, 'href')
  const found = linkFrom(href, around, base)
  if ('link' in found) return found.link
  if (found.fault === 'noPage') note(element, `the link to “${href}” leads to no page of this site and was left open.`)
  else note(element, `the link to “${shortened(href, 80)}” is no address that can be followed and was left open.`)
  return ''
}

/** The words of what is kept as words alone; links in them, but for one that has its own place, are said to be lost. */
export function plain(element: Element, taking: Taking, kept?: Element): string {
  for (const link of elements(element, 'a'))
    if (link !== kept && attribute(link, 'href') !== '')
      taking.note(
        link,
        `the link in “${shortened(textOf(link), 60)}” (${attribute(link, 'href')}) has no place here; its words stayed.`,
      )
  return taking.line(element, textOf(element))
}

const takeHeading: Taker = (element, taking) => {
  const { tagName: tag } = element
  const links = elements(element, 'a')
  const whole = links.find((link) => textOf(link) === textOf(element))
  const words = plain(element, taking, whole)
  if (words !== '')
    taking.add('heading', {
      words,
      level: tag === 'h1' || tag === 'h2' ? tag : 'h3',
      size: tag === 'h1' ? 'grand' : tag === 'h2' ? 'large' : 'medium',
      ...(whole === undefined ? {} : withLink(linkOf(whole, taking))),
    })
  takePictures(element, taking)
}

const withLink = (link: string): Props => (link === '' ? {} : { link })

const takeText: Taker = (element, taking) => {
  const [only] = childElements(element)
  if (only?.tagName === 'a' && hasClass(only, 'button') && textOf(only) === textOf(element)) return takeButton(only, taking)
  if (element.tagName !== 'p' && holdsCards(element)) return takeCards(element, taking)
  taking.addText(outerHtml(element, (link) => linkOf(link, taking)))
  takePictures(element, taking)
}

/** A list each of whose entries has a title of its own. */
function holdsCards(list: Element): boolean {
  const entries = list.childNodes.filter((child) => isElement(child) || textOf(child) !== '')
  return entries.length > 0 && entries.every((entry) => isElement(entry) && firstOf(entry, ...headingTags) !== undefined)
}

const takeCards: Taker = (list, taking) => {
  for (const entry of childElements(list)) {
    const title = firstOf(entry, ...headingTags)
    if (title === undefined) continue
    const link = firstOf(title, 'a') ?? firstOf(entry, 'a')
    const image = firstOf(entry, 'img')
    const noted = elements(entry, 'p', 'small').find((one) => hasClass(one, 'note'))
    const said = without(entry, title, ...(noted === undefined ? [] : [noted]))
    const others = elements(entry, 'a').filter((one) => one !== link && textOf(one) !== textOf(title))
    for (const other of others)
      taking.note(other, `the link in “${shortened(textOf(other), 60)}” has no place here: a card leads to one place.`)
    const card = taking.make('card', {
      title: taking.line(title, textOf(title)),
      words: taking.line(entry, linesOf(said)),
      ...(noted === undefined ? {} : { note: taking.line(noted, textOf(noted)) }),
      ...(image === undefined ? {} : { picture: pictureOf(image, taking) }),
      ...(link === undefined ? {} : withLink(linkOf(link, taking))),
    })
    taking.addWithin('cardList', card)
  }
}

const takeButton: Taker = (element, taking) => {
  if (textOf(element) !== '') taking.add('button', { words: plain(element, taking, element), link: linkOf(element, taking) })
  takePictures(element, taking)
}

function pictureOf(image: Element, { note }: Taking): string {
  const source = attribute(image, 'src')
  const name = /\/media\/([a-z0-9-]+)(\.svg)?$/.exec(source)?.[1] ?? ''
  if (isMedia(name) || (pictureNames as readonly string[]).includes(name)) return name
  note(image, `the picture “${shortened(source, 80)}” is not in the media library. Bring it there, then choose it.`)
  return ''
}

function takePicture(image: Element, taking: Taking, caption = ''): void {
  taking.add('picture', {
    picture: pictureOf(image, taking),
    alt: taking.line(image, attribute(image, 'alt')),
    ...(caption === '' ? {} : { caption }),
  })
}

/** Pictures that stood in words follow them. */
function takePictures(element: Element, taking: Taking): void {
  for (const image of elements(element, 'img')) takePicture(image, taking)
}

const takeFigure: Taker = (element, taking) => {
  const [image, film] = [firstOf(element, 'img'), firstOf(element, 'video')]
  const under = firstOf(element, 'figcaption')
  const caption = under === undefined ? '' : plain(under, taking)
  if (under !== undefined) taking.addText(`<p>${outerHtml(without(element, under), (link) => linkOf(link, taking))}</p>`)
  if (film !== undefined) takeFilm(film, taking, caption)
  else if (image !== undefined) takePicture(image, taking, caption)
  else leaveOut(element, taking)
}

function takeFilm(element: Element, taking: Taking, caption = ''): void {
  const source = attribute(element, 'src') || attribute(firstOf(element, 'source') ?? element, 'src')
  const name = /\/media\/([a-z0-9-]+)(\.webm)?$/.exec(source)?.[1] ?? ''
  if (!isMedia(name) && !(filmNames as readonly string[]).includes(name))
    return taking.note(element, `the film “${shortened(source, 80)}” is not in the media library and was left out.`)
  const poster = /\/media\/([a-z0-9-]+)(\.svg)?$/.exec(attribute(element, 'poster'))?.[1] ?? ''
  taking.add('video', { film: name, poster, caption })
}

const takeQuote: Taker = (element, taking) => {
  const by = firstOf(element, 'footer', 'cite')
  const said = by === undefined ? element : without(element, by)
  for (const link of elements(said, 'a'))
    taking.note(link, `the link in “${shortened(textOf(link), 60)}” has no place in a quotation; its words stayed.`)
  taking.add('quote', {
    words: taking.line(element, linesOf(said)),
    by: by === undefined ? '' : plain(by, taking),
  })
  takePictures(said, taking)
}

const takeDetails: Taker = (element, taking) => {
  const summary = childElements(element).find(({ tagName }) => tagName === 'summary')
  const words = element.childNodes
    .filter((child) => child !== summary)
    .map((child) => outerHtml(child, (link) => linkOf(link, taking)))
    .join('')
  const title = summary === undefined ? '' : plain(summary, taking)
  taking.addWithin('accordion', taking.make('accordionItem', { title, words: richText(words) }))
  for (const child of childElements(element)) takePictures(child, taking)
}

/** Terms and what is said of them. */
const takeTerms: Taker = (element, taking) => {
  for (const one of element.childNodes) {
    const html = outerHtml(one, (link) => linkOf(link, taking))
    taking.addText(isElement(one) && one.tagName === 'dt' ? `<p><strong>${html}</strong></p>` : `<p>${html}</p>`)
  }
  takePictures(element, taking)
}

/** What the product itself wrote as one: the place of a call to action or a shared component that is still here. */
function takeKnown(element: Element, taking: Taking): boolean {
  for (const [type, name] of Object.entries(knownParts)) {
    const id = attribute(element, name)
    if (id === '') continue
    if (taking.around.known.has(id)) {
      taking.add(type, { [type]: id })
      return true
    }
    taking.note(
      element,
      `“${shortened(id, 60)}”, which was shown here, is not on this site; what it showed was taken as it stood.`,
    )
  }
  return false
}

const leaveOut: Taker = (element, { note }) => {
  const words = textOf(element)
  const passage = words === '' ? '' : ` (“${shortened(words, 60)}${words.length > 60 ? '…' : ''}”)`
  note(element, `<${element.tagName}>${passage} has no component here and was left out.`)
}

const leaveMenu: Taker = (element, { note }) =>
  note(element, 'the navigation was left out: menus are documents of their own (OPML).')

const leaveSilently: Taker = () => undefined

const frame = [
  'section',
  'article',
  'main',
  'header',
  'footer',
  'div',
  'body',
  'aside',
  'center',
  'hgroup',
  'address',
  'fieldset',
]

const takeFrame: Taker = (element, taking) => {
  if (takeKnown(element, taking)) return
  const begins = element.tagName === 'section' || element.tagName === 'article'
  if (begins) taking.close()
  takeChildren(element, taking)
  if (begins) taking.close()
}

/** What stands in the open, in words and not in blocks, is a paragraph. */
function takeChildren(element: Element, taking: Taking): void {
  let loose: Child[] = []
  const flush = () => {
    const words = loose
      .map((child) => textOf(child))
      .join(' ')
      .trim()
    const links = loose.flatMap((child) => (isElement(child) && child.tagName === 'a' ? [child] : []))
    const [link] = links
    if (link !== undefined && links.length === 1 && textOf(link) === words.trim()) takeButton(link, taking)
    else {
      if (words !== '') taking.addText(`<p>${loose.map((child) => outerHtml(child, (one) => linkOf(one, taking))).join('')}</p>`)
      for (const child of loose) if (isElement(child)) takePictures(child, taking)
    }
    loose = []
  }
  for (const child of element.childNodes) {
    const taker = isElement(child) ? own(takers, child.tagName) : undefined
    if (!isElement(child) || (taker === undefined && phrasing.has(child.tagName))) loose.push(child)
    else {
      flush()
      ;(taker ?? leaveOut)(child, taking)
    }
  }
  flush()
}

/** Words within a line (HTML, 3.2.5.2.5), as far as they can hold some. */
const phrasing = new Set(
  'a abbr b bdi bdo big br cite code data del dfn em font i ins kbd label mark q s samp small span strong sub sup time tt u var wbr'.split(
    ' ',
  ),
)

const every = (tags: readonly string[], taker: Taker) => Object.fromEntries(tags.map((tag) => [tag, taker]))

/** What becomes of each element that stands by itself. */
const takers: Readonly<Record<string, Taker>> = {
  ...every(frame, takeFrame),
  ...every(headingTags, takeHeading),
  ...every(['p', 'ul', 'ol', 'pre', 'menu'], takeText),
  dl: takeTerms,
  img: (element, taking) => takePicture(element, taking),
  picture: takePictures,
  figure: takeFigure,
  video: (element, taking) => takeFilm(element, taking),
  blockquote: takeQuote,
  details: takeDetails,
  form: takeForm,
  nav: leaveMenu,
  ...every(['script', 'style', 'noscript', 'template', 'link', 'meta', 'hr'], leaveSilently),
}

/** Everything in the body of a page, in its order; scripts, handlers and what else is dropped is named wherever it stands. */
export function takeBody(body: Element, taking: Taking): void {
  nameWhatIsDropped(body, taking)
  takeFrame(body, taking)
  taking.close()
}

const dropped = ['script', 'style', 'iframe', 'object', 'embed', 'canvas', 'noscript', 'template']

function nameWhatIsDropped(body: Element, { note }: Taking): void {
  for (const element of [body, ...everyElement(body)]) {
    const handlers = element.attrs.filter(({ name }) => /^on[a-z]/.test(name)).map(({ name }) => name)
    if (handlers.length > 0) note(element, `what <${element.tagName}> does by itself (${handlers.join(', ')}) was left out.`)
    const standsAlone =
      element.parentNode !== null && 'tagName' in element.parentNode && frame.includes(element.parentNode.tagName)
    if (
      ['script', 'style', 'noscript', 'template'].includes(element.tagName) ||
      (dropped.includes(element.tagName) && !standsAlone)
    )
      note(element, `<${element.tagName}> was left out.`)
    if (element.tagName === 'table' && !standsAlone) note(element, `a table was taken as its words.`)
  }
}
