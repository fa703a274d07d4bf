import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser'
import * as z from 'zod'
import { FileFault } from './fault'

/** One entry of an outline: its words, where it leads, what is below it. */
export interface OutlineItem {
  readonly text: string
  readonly url: string
  readonly items: readonly OutlineItem[]
}

export interface OutlineFile {
  readonly title: string
  readonly items: readonly OutlineItem[]
}

/** OPML 2.0 (http://opml.org/spec2.opml): entries of the type “link”. */
export function writeOpml({ title, items }: OutlineFile): string {
  const outline = (item: OutlineItem): object => ({
    '@text': item.text,
    '@type': 'link',
    '@url': item.url,
    ...(item.items.length === 0 ? {} : { outline: item.items.map(outline) }),
  })
  const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: '@', format: true, suppressEmptyNode: true })
  const body = builder.build({ opml: { '@version': '2.0', head: { title }, body: { outline: items.map(outline) } } })
  return `<?xml version="1.0" encoding="UTF-8"?>\n${body}`
}

type RawOutline = { '@text'?: string; '@url'?: string; '@htmlUrl'?: string; outline?: RawOutline[] }
const rawOutline: z.ZodType<RawOutline> = z.lazy(() =>
  z.object({
    '@text': z.string().optional(),
    '@url': z.string().optional(),
    '@htmlUrl': z.string().optional(),
    outline: z.array(rawOutline).optional(),
  }),
)
const file = z.object({
  opml: z.object({
    head: z.object({ title: z.coerce.string().default('') }).or(z.literal('')),
    body: z.object({ outline: z.array(rawOutline).default([]) }),
  }),
})

/** @throws {FileFault} where it is no OPML, with the line */
export function readOpml(text: string): OutlineFile {
  if (/<!DOCTYPE|<!ENTITY/i.test(text))
    throw new FileFault('A document type is not taken in an OPML file. Leave it out.', lineOf(text, /<!DOCTYPE|<!ENTITY/i))
  const valid = XMLValidator.validate(text)
  if (valid !== true) throw new FileFault(`${valid.err.msg.replace(/\.$/, '')}.`, valid.err.line, valid.err.col)
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '@',
    parseAttributeValue: false,
    parseTagValue: false,
    isArray: (name) => name === 'outline',
  })
  const parsed = file.safeParse(parsedXml(parser, text))
  if (!parsed.success) throw new FileFault('This is no OPML file: it needs <opml> with <head> and <body>.', 1)
  const { head, body } = parsed.data.opml
  return { title: head === '' ? '' : head.title, items: body.outline.map((raw) => item(raw, text)) }
}

/** The parser has limits of its own, of depth and of what entities grow to, and says so by throwing. */
function parsedXml(parser: XMLParser, text: string): unknown {
  try {
    return parser.parse(text) as unknown
  } catch (reason) {
    throw new FileFault(
      `This outline cannot be read: ${reason instanceof Error ? reason.message.toLowerCase() : 'it is damaged'}.`,
    )
  }
}

function item(raw: RawOutline, text: string): OutlineItem {
  const words = raw['@text']?.trim() ?? ''
  if (words === '')
    throw new FileFault('An outline has no “text”. Give each entry its words.', lineOf(text, /<outline(?![^>]*\stext="[^"]+")/))
  return { text: words, url: raw['@url'] ?? raw['@htmlUrl'] ?? '', items: (raw.outline ?? []).map((one) => item(one, text)) }
}

function lineOf(text: string, pattern: RegExp): number {
  return text.slice(0, Math.max(0, text.search(pattern))).split('\n').length
}
