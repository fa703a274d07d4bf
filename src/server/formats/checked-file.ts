import { createHash } from 'node:crypto'
import { imageSize } from 'image-size'
import { Failure } from '../failure'
import { cleanSvg, SVG_LIMIT } from './svg-file'

export const PICTURE_LIMIT = 8_000_000
export const FILM_LIMIT = 40_000_000

/** Of a picture as it lies before its maker, all of its frames counted: what a decoder may take in. */
export const MOST_PIXELS = 60_000_000

export interface CheckedFile {
  readonly name: string
  readonly type: string
  /** In pixels; 0 of a film. */
  readonly width: number
  readonly height: number
  /** What is kept of it: a drawing is cleaned. */
  readonly body: Buffer
}

/** What a file is, by its first bytes and never by its name (the signatures of the formats’ own specifications). */
const signatures: readonly { readonly type: string; readonly fits: (head: Buffer) => boolean }[] = [
  {
    type: 'image/png',
    fits: (head) => head.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])),
  },
  { type: 'image/jpeg', fits: (head) => head.subarray(0, 3).equals(Buffer.from([0xff, 0xd8, 0xff])) },
  { type: 'image/gif', fits: (head) => /^GIF8[79]a/.test(head.toString('latin1', 0, 6)) },
  { type: 'image/webp', fits: (head) => head.toString('latin1', 0, 4) === 'RIFF' && head.toString('latin1', 8, 12) === 'WEBP' },
  { type: 'image/avif', fits: (head) => /^ftypavi[fs]$/.test(head.toString('latin1', 4, 12)) },
  { type: 'image/svg+xml', fits: (head) => /^(\uFEFF)?\s*<(\?xml\s|!--|!DOCTYPE svg|svg[\s>])/i.test(head.toString('utf8')) },
  { type: 'video/webm', fits: (head) => head.subarray(0, 4).equals(Buffer.from([0x1a, 0x45, 0xdf, 0xa3])) },
  { type: 'video/mp4', fits: (head) => /^ftyp(isom|iso[2-9]|mp4[12]|avc1|M4V |dash)/.test(head.toString('latin1', 4, 12)) },
]

/** @throws {Failure} for what is no picture or film that the site can show, or is too large */
export function checkFile(given: Buffer): CheckedFile {
  const type = signatures.find(({ fits }) => fits(given.subarray(0, 32)))?.type
  if (type === undefined)
    throw new Failure(
      'input',
      'This is no picture or film that the site can show. Bring a PNG, JPEG, GIF, WebP, AVIF, SVG, WebM or MP4.',
    )
  const film = type.startsWith('video/')
  const drawing = type === 'image/svg+xml'
  const limit = film ? FILM_LIMIT : drawing ? SVG_LIMIT : PICTURE_LIMIT
  if (given.length > limit)
    throw new Failure(
      'input',
      `This ${film ? 'film' : drawing ? 'drawing' : 'picture'} has ${Math.ceil(given.length / 1e6)} MB; ${limit / 1e6} MB are the most.`,
    )
  const body = drawing ? Buffer.from(cleanSvg(given.toString('utf8'))) : given
  const name = `m-${createHash('sha256').update(body).digest('hex').slice(0, 32)}`
  return { name, type, ...(film ? { width: 0, height: 0 } : sizeSaid(body)), body }
}

/** As its first bytes say it: nothing is unpacked for it. @throws {Failure} */
function sizeSaid(body: Buffer): { width: number; height: number } {
  let said: { width: number; height: number }
  try {
    said = imageSize(body)
  } catch {
    throw new Failure('input', 'This picture is damaged: its size cannot be read.')
  }
  const { width, height } = said
  if (width * height > MOST_PIXELS) throw new Failure('input', `This picture is ${width} × ${height}: make it smaller first.`)
  return { width, height }
}
