import { SaxesParser, type SaxesTagPlain } from 'saxes'
import { escapedInXml } from '../markup'
import { FileFault } from './fault'

/** One entry of an outline: its words, where it leads, what is below it. */
export interface OutlineItem {
  readonly text: string
  /** Empty where it leads nowhere. */
  readonly url: string
  readonly items: readonly OutlineItem[]
}

export interface OutlineFile {
  readonly title: string
  readonly items: readonly OutlineItem[]
}

/** OPML 2.0 (http://opml.org/spec2.opml): entries of the type “link”. */
export function writeOpml({ title, items }: OutlineFile): string {
  const outline = ({ text, url, items: inner }: OutlineItem, indent: string): string => {
    const link = url === '' ? '' : ` type="link" url="${escapedInXml(url)}"`
    const start = `${indent}<outline text="${escapedInXml(text)}"${link}`
    if (inner.length === 0) return `${start}/>`
    return [`${start}>`, ...inner.map((one) => outline(one, `${indent}  `)), `${indent}</outline>`].join('\n')
  }
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<opml version="2.0">',
    `  <head>\n    <title>${escapedInXml(title)}</title>\n  </head>`,
    '  <body>',
    ...items.map((item) => outline(item, '    ')),
    '  </body>',
    '</opml>\n',
  ].join('\n')
}

/** More than any menu has. */
const MOST_ENTRIES = 5000
const DEEPEST = 50

interface Reading {
  title: string
  readonly items: OutlineItem[]
}

/**
 * An outline, read as the XML standard wants it read (XML 1.0, fifth edition): what is not well-formed is refused.
 *
 * @throws {FileFault} where it is no OPML, with line and column
 */
export function readOpml(text: string): OutlineFile {
  const parser = new SaxesParser({ position: true, xmlns: false as const })
  const found: Reading = { title: '', items: [] }
  const path: string[] = []
  /** The lists that the entries which are open put theirs into. */
  const lists: OutlineItem[][] = [found.items]
  let entries = 0
  const fault = (words: string) => new FileFault(words, parser.line, parser.column + 1)

  parser.on('error', ({ message }) => {
    throw fault(sentence(message))
  })
  parser.on('doctype', () => {
    throw fault('A document type is not taken in an OPML file. Leave it out.')
  })
  parser.on('opentag', (tag) => {
    if (path.length === 0 && tag.name !== 'opml') throw fault('This is no OPML file: it begins with <opml>.')
    if (path.length > DEEPEST) throw fault(`Its entries stand more than ${DEEPEST} deep in each other.`)
    path.push(tag.name)
    if (tag.name !== 'outline') return
    if (path[1] !== 'body') throw fault('An <outline> stands in the <body> of the file.')
    if (++entries > MOST_ENTRIES) throw fault(`It has more than ${MOST_ENTRIES} entries.`)
    const { text: words, url } = entryOf(tag)
    if (words === '') throw fault('An outline has no “text”. Give each entry its words.')
    const inner: OutlineItem[] = []
    lists.at(-1)?.push({ text: words, url, items: inner })
    lists.push(inner)
  })
  parser.on('closetag', ({ name }) => {
    path.pop()
    if (name === 'outline') lists.pop()
  })
  for (const kind of ['text', 'cdata'] as const)
    parser.on(kind, (words) => {
      if (path.join(' ') === 'opml head title') found.title += words
    })
  let hasBody = false
  parser.on('opentagstart', ({ name }) => {
    hasBody ||= path.length === 1 && name === 'body'
  })
  parser.write(text).close()
  if (!hasBody) throw new FileFault('This is no OPML file: it needs <opml> with a <body>.', 1)
  return { title: found.title.trim(), items: found.items }
}

/** A link, else the page of a feed, else the feed itself. */
function entryOf({ attributes }: SaxesTagPlain): { text: string; url: string } {
  const { text = '', title = '', url, htmlUrl, xmlUrl } = attributes
  return { text: text.trim() || title.trim(), url: (url ?? htmlUrl ?? xmlUrl ?? '').trim() }
}

/** What the parser says, after the place that it puts before it. */
function sentence(message: string): string {
  const words = message.replace(/^[^:]*:?\d+:\d+: /, '').replace(/\.$/, '')
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}.`
}
