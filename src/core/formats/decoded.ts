import { FileFault } from './fault'

/** How files begin that are often taken for text by their names; as a byte order of their own (WHATWG MIME Sniffing, 6). */
const beginnings: readonly (readonly [string, readonly number[]])[] = [
  ['a PDF', [0x25, 0x50, 0x44, 0x46]],
  ['a zip archive, or a document of an office program', [0x50, 0x4b, 0x03, 0x04]],
  ['a document of an older office program', [0xd0, 0xcf, 0x11, 0xe0]],
  ['a PNG picture', [0x89, 0x50, 0x4e, 0x47]],
  ['a JPEG picture', [0xff, 0xd8, 0xff]],
  ['a GIF picture', [0x47, 0x49, 0x46, 0x38]],
  ['a packed file (gzip)', [0x1f, 0x8b]],
  ['a film (WebM)', [0x1a, 0x45, 0xdf, 0xa3]],
  ['a program', [0x7f, 0x45, 0x4c, 0x46]],
]

/** The text of a file in its own encoding, and what that was. */
export interface Decoded {
  readonly text: string
  readonly encoding: string
}

/**
 * The words in a file: by its byte order mark, by what it says of itself, else UTF-8, and where it is not that,
 * Windows-1252, as browsers take it (WHATWG Encoding; HTML 13.2.3.2).
 *
 * @throws {FileFault} where it is no text, with what it is
 */
export function decoded(bytes: Uint8Array): Decoded {
  refuseOtherThanText(bytes)
  const marked = markOf(bytes)
  const said = marked ?? saidIn(bytes)
  if (said !== null) {
    const text = as(said, bytes, false)
    if (text !== null) return { text, encoding: said }
  }
  const text = as('utf-8', bytes, true)
  return text === null ? { text: as('windows-1252', bytes, false) ?? '', encoding: 'windows-1252' } : { text, encoding: 'utf-8' }
}

/** @throws {FileFault} where the bytes are no text, with what they are */
export function refuseOtherThanText(bytes: Uint8Array): void {
  const kind = beginnings.find(([, marks]) => marks.every((mark, index) => bytes[index] === mark))
  if (kind !== undefined) throw new FileFault(`This is ${kind[0]}, and no text that could be read here.`)
  // Two bytes a letter have many zeros; anything else that has one is no text.
  if (markOf(bytes) === null && bytes.includes(0)) throw new FileFault('This file is no text: it holds bytes that no text has.')
}

function markOf(bytes: Uint8Array): string | null {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le'
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be'
  return bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 'utf-8' : null
}

/** What the first kilobyte says: an XML declaration, or HTML’s `meta`. */
function saidIn(bytes: Uint8Array): string | null {
  const start = as('windows-1252', bytes.subarray(0, 1024), false) ?? ''
  const said =
    /^<\?xml[^>]*\sencoding=["']([\w.:-]+)["']/i.exec(start)?.[1] ?? /<meta[^>]*\scharset=["']?([\w.:-]+)/i.exec(start)?.[1]
  // A file that can say so is none of two bytes a letter.
  return said === undefined || /^utf-?16/i.test(said) ? null : said
}

function as(encoding: string, bytes: Uint8Array, fatal: boolean): string | null {
  try {
    return new TextDecoder(encoding, { fatal }).decode(bytes)
  } catch {
    return null
  }
}
